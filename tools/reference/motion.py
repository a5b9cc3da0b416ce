#!/usr/bin/python3
"""How far two GLB files move apart, computed anew from the glTF 2.0 specification in double precision with NumPy alone.

Shares no code with the product. Every clip is sampled 240 times a second and at rest; nodes, skins, morph targets and all
three interpolations as in glTF 2.0, 3.5, 3.7.3 and appendix C. Files in other axes or units say so in
asset.extras.cleanMarrow.conventions and are brought to metres, Y up, Z ahead, right-handed. Vertices that no triangle
uses are left out.

Usage: motion.py LIST.json   LIST is [{"name", "a", "b"}, ...]; prints [{"name", "largest", "size"}, ...], in metres.
"""
import base64, json, os, struct, sys
import numpy as np

RATE = 240.0
TYPES = {5120: np.int8, 5121: np.uint8, 5122: np.int16, 5123: np.uint16, 5125: np.uint32, 5126: np.float32}
WIDTHS = {"SCALAR": 1, "VEC2": 2, "VEC3": 3, "VEC4": 4, "MAT4": 16}


class File:
    def __init__(self, path):
        data = open(path, "rb").read()
        chunk = b""
        if data[:4] == b"glTF":
            size = struct.unpack_from("<I", data, 12)[0]
            self.json = json.loads(data[20:20 + size])
            at = 20 + size
            if at + 8 <= len(data):
                chunk = data[at + 8:at + 8 + struct.unpack_from("<I", data, at)[0]]
        else:
            self.json = json.loads(data)
        self.buffers = []
        for b in self.json.get("buffers", []):
            uri = b.get("uri")
            if uri is None:
                self.buffers.append(chunk)
            elif uri.startswith("data:"):
                self.buffers.append(base64.b64decode(uri.split(",", 1)[1]))
            else:
                self.buffers.append(open(os.path.join(os.path.dirname(path), uri), "rb").read())
        self.known = {}

    def view(self, index, offset, kind, width, count):
        v = self.json["bufferViews"][index]
        kind = np.dtype(TYPES[kind])
        start = v.get("byteOffset", 0) + offset
        stride = v.get("byteStride", kind.itemsize * width)
        raw = self.buffers[v["buffer"]]
        rows = np.ndarray((count, width), kind, raw, start, (stride, kind.itemsize))
        return rows.copy()

    def accessor(self, index):
        if index in self.known:
            return self.known[index]
        a = self.json["accessors"][index]
        width, count, kind = WIDTHS[a["type"]], a["count"], a["componentType"]
        if "bufferView" in a:
            out = self.view(a["bufferView"], a.get("byteOffset", 0), kind, width, count)
        else:
            out = np.zeros((count, width), TYPES[kind])
        if "sparse" in a:
            s = a["sparse"]
            i = self.view(s["indices"]["bufferView"], s["indices"].get("byteOffset", 0), s["indices"]["componentType"], 1, s["count"])
            out[i[:, 0].astype(int)] = self.view(s["values"]["bufferView"], s["values"].get("byteOffset", 0), kind, width, s["count"])
        if a.get("normalized"):
            most = float(np.iinfo(out.dtype).max)
            out = np.maximum(out.astype(np.float64) / most, -1.0)
        out = out if kind in (5121, 5123, 5125) and not a.get("normalized") else out.astype(np.float64)
        self.known[index] = out
        return out

    def list(self, name):
        return self.json.get(name, [])


def matrices(t, r, s):
    """Of T translations, rotations x y z w (as stored) and scales."""
    x, y, z, w = r[:, 0], r[:, 1], r[:, 2], r[:, 3]
    m = np.zeros((len(t), 4, 4))
    n = x * x + y * y + z * z + w * w
    f = np.where(n > 0, 2 / np.where(n > 0, n, 1), 0)
    m[:, 0, 0] = 1 - f * (y * y + z * z); m[:, 0, 1] = f * (x * y - z * w); m[:, 0, 2] = f * (x * z + y * w)
    m[:, 1, 0] = f * (x * y + z * w); m[:, 1, 1] = 1 - f * (x * x + z * z); m[:, 1, 2] = f * (y * z - x * w)
    m[:, 2, 0] = f * (x * z - y * w); m[:, 2, 1] = f * (y * z + x * w); m[:, 2, 2] = 1 - f * (x * x + y * y)
    m[:, :3, :3] *= s[:, None, :]
    m[:, :3, 3] = t
    m[:, 3, 3] = 1
    return m


def sampled(times, values, mode, at, rotation):
    """Values at the times asked for, T x width."""
    cubic = mode == "CUBICSPLINE"
    keys = values[:, 1] if cubic else values
    k = np.clip(np.searchsorted(times, at, side="right") - 1, 0, len(times) - 1)
    n = np.minimum(k + 1, len(times) - 1)
    span = (times[n] - times[k])
    u = np.where(span > 0, (np.clip(at, times[0], times[-1]) - times[k]) / np.where(span > 0, span, 1), 0)[:, None]
    if mode == "STEP":
        return keys[k]
    if cubic:
        d = span[:, None]
        out = ((2 * u**3 - 3 * u**2 + 1) * keys[k] + d * (u**3 - 2 * u**2 + u) * values[k, 2]
               + (-2 * u**3 + 3 * u**2) * keys[n] + d * (u**3 - u**2) * values[n, 0])
        if rotation:
            length = np.linalg.norm(out, axis=1, keepdims=True)
            out = np.where(length > 0, out / np.where(length > 0, length, 1), [0, 0, 0, 1])
        return out
    if not rotation:
        return keys[k] * (1 - u) + keys[n] * u
    a, b = keys[k], keys[n]
    dot = (a * b).sum(1, keepdims=True)
    b = np.where(dot < 0, -b, b)
    dot = np.minimum(np.abs(dot), 1)
    angle = np.arccos(dot)
    sine = np.sin(angle)
    near = sine < 1e-8
    wa = np.where(near, 1 - u, np.sin(angle * (1 - u)) / np.where(near, 1, sine))
    wb = np.where(near, u, np.sin(angle * u) / np.where(near, 1, sine))
    return wa * a + wb * b


class Asset:
    def __init__(self, path):
        self.file = f = File(path)
        self.nodes = f.list("nodes")
        self.parent = [-1] * len(self.nodes)
        for i, node in enumerate(self.nodes):
            for c in node.get("children", []):
                self.parent[c] = i
        self.order = []
        todo = [i for i, p in enumerate(self.parent) if p < 0]
        while todo:
            i = todo.pop(0)
            self.order.append(i)
            todo += self.nodes[i].get("children", [])
        c = f.json.get("asset", {}).get("extras", {}).get("cleanMarrow", {}).get("conventions")
        self.view = np.eye(4)
        if c:
            axis = {"x": (1, 0, 0), "y": (0, 1, 0), "z": (0, 0, 1), "-x": (-1, 0, 0), "-y": (0, -1, 0), "-z": (0, 0, -1)}
            up, ahead = np.array(axis[c["up"]]), np.array(axis[c["forward"]])
            left = np.cross(up, ahead) * (1 if c["handedness"] == "right" else -1)
            self.view[:3, :3] = np.array([left, up, ahead]) * c["metresPerUnit"]
        self.clips = {}
        for a in f.list("animations"):
            self.clips.setdefault(a.get("name", ""), a)
        self.uses = [(i, n) for i, n in enumerate(self.nodes) if "mesh" in n]

    def range(self, clip):
        t = [f for ch in clip["channels"] for f in self.file.accessor(clip["samplers"][ch["sampler"]]["input"])[[0, -1], 0]]
        return min(t), max(t)

    def world(self, clip, at):
        count = len(at)
        local = []
        morphs = {}
        parts = []
        for i, n in enumerate(self.nodes):
            parts.append([np.tile(np.array(n.get(k, d), float), (count, 1)) for k, d in
                          (("translation", [0, 0, 0]), ("rotation", [0, 0, 0, 1]), ("scale", [1, 1, 1]))])
            if "mesh" in n:
                mesh = self.file.list("meshes")[n["mesh"]]
                w = n.get("weights", mesh.get("weights"))
                targets = max((len(p.get("targets", [])) for p in mesh["primitives"]), default=0)
                if targets:
                    morphs[i] = np.tile(np.array(w if w else [0] * targets, float), (count, 1))
        for ch in (clip or {}).get("channels", []):
            node, path = ch["target"].get("node"), ch["target"]["path"]
            if node is None or path == "pointer":
                continue
            s = clip["samplers"][ch["sampler"]]
            times = self.file.accessor(s["input"])[:, 0]
            mode = s.get("interpolation", "LINEAR")
            raw = self.file.accessor(s["output"]).astype(float)
            width = raw.size // len(times) // (3 if mode == "CUBICSPLINE" else 1)
            values = raw.reshape((len(times), 3, width) if mode == "CUBICSPLINE" else (len(times), width))
            got = sampled(times, values, mode, at, path == "rotation")
            if path == "weights":
                morphs[node] = got
            else:
                parts[node]["translation rotation scale".split().index(path)] = got
        world = [None] * len(self.nodes)
        for i in self.order:
            n = self.nodes[i]
            m = (np.tile(np.array(n["matrix"], float).reshape(4, 4).T, (count, 1, 1)) if "matrix" in n else matrices(*parts[i]))
            world[i] = m if self.parent[i] < 0 else world[self.parent[i]] @ m
        return world, morphs

    def positions(self, clip, at):
        """By name of mesh and node: T x V x 3, drawn vertices alone."""
        world, morphs = self.world(clip, at)
        out = {}
        for i, n in self.uses:
            mesh = self.file.list("meshes")[n["mesh"]]
            skin = self.file.list("skins")[n["skin"]] if "skin" in n else None
            whole = []
            for p in mesh["primitives"]:
                base = self.file.accessor(p["attributes"]["POSITION"])
                count = len(at)
                pos = np.tile(base, (count, 1, 1)) if i in morphs else base[None]
                for t, target in enumerate(p.get("targets", [])):
                    if "POSITION" in target and i in morphs:
                        pos = pos + morphs[i][:, t, None, None] * self.file.accessor(target["POSITION"])[None]
                if skin is None or "JOINTS_0" not in p["attributes"]:
                    m = self.view @ world[i]
                    moved = pos @ m[:, :3, :3].transpose(0, 2, 1) + m[:, None, :3, 3]
                else:
                    moved = self.skinned(p, skin, world, pos, count)
                used = np.unique(self.file.accessor(p["indices"])[:, 0].astype(int)) if "indices" in p else np.arange(len(base))
                whole.append(moved[:, used])
            key = (mesh.get("name") or n.get("name", ""), n.get("name", ""))
            out[key] = np.concatenate(whole, axis=1)
        return out

    def skinned(self, p, skin, world, pos, count):
        joints = skin["joints"]
        binds = (self.file.accessor(skin["inverseBindMatrices"]).reshape(-1, 4, 4).transpose(0, 2, 1)
                 if "inverseBindMatrices" in skin else np.tile(np.eye(4), (len(joints), 1, 1)))
        m = np.stack([self.view @ world[j] @ binds[k] for k, j in enumerate(joints)], axis=1)[:, :, :3]
        v = pos.shape[1]
        weight = np.zeros((v, len(joints)))
        s = 0
        while f"JOINTS_{s}" in p["attributes"]:
            j = self.file.accessor(p["attributes"][f"JOINTS_{s}"]).astype(int)
            w = self.file.accessor(p["attributes"][f"WEIGHTS_{s}"]).astype(float)
            for k in range(4):
                np.add.at(weight, (np.arange(v), j[:, k]), w[:, k])
            s += 1
        if pos.shape[0] == 1:
            # Linear in the matrices: one product for all moments.
            four = np.concatenate([pos[0], np.ones((v, 1))], axis=1)
            rows = (weight[:, :, None] * four[:, None, :]).reshape(v, -1)
            flat = m.transpose(1, 3, 0, 2).reshape(len(joints) * 4, count * 3)
            return (rows @ flat).reshape(v, count, 3).transpose(1, 0, 2)
        out = np.empty((count, v, 3))
        for t in range(count):
            blended = np.tensordot(weight, m[t], axes=(1, 0))
            out[t] = np.einsum("vij,vj->vi", blended[:, :, :3], pos[t]) + blended[:, :, 3]
        return out


def compare(a, b):
    a, b = Asset(a), Asset(b)
    largest, size = 0.0, 0.0
    moments = [(None, None, np.zeros(1))]
    for name, clip in a.clips.items():
        if name not in b.clips:
            raise SystemExit(f"clip {name} is missing")
        low, high = a.range(clip)
        other = b.range(b.clips[name])
        low, high = min(low, other[0]), max(high, other[1])
        # Aside of the keys themselves, where a baked step may jump an instant early or late.
        at = np.arange(low + 1e-4, high, 1 / RATE)
        for part in np.array_split(at, max(1, len(at) // 120)) if len(at) else []:
            moments.append((clip, b.clips[name], part))
    for ca, cb, at in moments:
        p, q = a.positions(ca, at), b.positions(cb, at)
        twins = {}
        for key in q:
            twins.setdefault(key[0], []).append(key)
        for key in p:
            same = key if key in q else next((k for k in q if k[1] == key[1] and q[k].shape == p[key].shape), None)
            if same is None:
                same = next((k for k in q if q[k].shape == p[key].shape and k not in p), None)
            if same is None:
                raise SystemExit(f"mesh {key} is missing")
            largest = max(largest, float(np.sqrt(((p[key] - q[same]) ** 2).sum(2)).max()))
            size = max(size, float(np.linalg.norm(p[key].reshape(-1, 3).max(0) - p[key].reshape(-1, 3).min(0))),
                       float(np.abs(p[key]).max()))
    return largest, size


def main():
    out = []
    for pair in json.load(open(sys.argv[1])):
        largest, size = compare(pair["a"], pair["b"])
        out.append({"name": pair["name"], "largest": largest, "size": size})
    json.dump(out, sys.stdout)


if __name__ == "__main__":
    main()
