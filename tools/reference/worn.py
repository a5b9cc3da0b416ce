#!/usr/bin/python3
"""How well worn parts move with a body: NumPy and SciPy, on files alone; skinning is that of motion.py.

Every clip of a file is looked at where it ends. Figures, over all of these poses together:
  stretch    length of an edge by its length at rest, the 99.9th percentile, the most, and the share of edges over 1.5
  deep       vertices a pose more than 2 mm below the body's skin that are not so at rest (its largest closed piece, or, where
             "nearest" is true, the one nearest to most of the part; the sign is that of the nearest point's normal)
  thickness  mean change of the distance between vertices that face each other through the part, as a share of that at rest
  other      vertices over 30 mm from the middle with more than 1 % of joints named for the other side

Usage: worn.py LIST.json   LIST is [{"name", "file", "body", "worn", "nearest"}, ...]; prints one object of figures for each.
"""
import json, sys
import numpy as np
from scipy.sparse import coo_matrix
from scipy.sparse.csgraph import connected_components
from scipy.spatial import cKDTree
import motion

DEEP, MIDDLE, SHARE, LONG = 0.002, 0.030, 0.01, 1.5


class Part:
    """A mesh with everything on one place as one vertex."""

    def __init__(self, asset, name):
        f = asset.file
        self.node, node = next((i, n) for i, n in asset.uses if f.list("meshes")[n["mesh"]].get("name") == name)
        self.skin = f.list("skins")[node["skin"]]
        points, triangles, weights, first = [], [], [], 0
        for p in f.list("meshes")[node["mesh"]]["primitives"]:
            at = f.accessor(p["attributes"]["POSITION"])
            w = np.zeros((len(at), len(self.skin["joints"])))
            s = 0
            while f"JOINTS_{s}" in p["attributes"]:
                j = f.accessor(p["attributes"][f"JOINTS_{s}"]).astype(int)
                by = f.accessor(p["attributes"][f"WEIGHTS_{s}"]).astype(float)
                for k in range(4):
                    np.add.at(w, (np.arange(len(at)), j[:, k]), by[:, k])
                s += 1
            points.append(at); weights.append(w)
            triangles.append(f.accessor(p["indices"])[:, 0].astype(int).reshape(-1, 3) + first)
            first += len(at)
        points = np.concatenate(points)
        _, keep, place = np.unique(points, axis=0, return_index=True, return_inverse=True)
        self.points, self.weights = points[keep], np.concatenate(weights)[keep]
        t = place.ravel()[np.concatenate(triangles)]
        self.triangles = t[(t[:, 0] != t[:, 1]) & (t[:, 1] != t[:, 2]) & (t[:, 2] != t[:, 0])]
        e = np.sort(np.concatenate([self.triangles[:, [0, 1]], self.triangles[:, [1, 2]], self.triangles[:, [2, 0]]]), 1)
        self.edges = np.unique(e, axis=0)

    def pieces(self):
        n = len(self.points)
        graph = coo_matrix((np.ones(len(self.edges)), (self.edges[:, 0], self.edges[:, 1])), (n, n))
        return connected_components(graph, directed=False)[1]

    def largest_piece(self):
        label = self.pieces()
        return self.triangles[label[self.triangles[:, 0]] == np.bincount(label).argmax()]

    def nearest_piece(self, at, others):
        """The piece that is the nearest to most of some places."""
        label = self.pieces()
        near = label[cKDTree(at).query(others)[1]]
        return self.triangles[label[self.triangles[:, 0]] == np.bincount(near).argmax()]

    def posed(self, asset, world):
        """Places where a pose puts them, in metres."""
        f = asset.file
        binds = (f.accessor(self.skin["inverseBindMatrices"]).reshape(-1, 4, 4).transpose(0, 2, 1)
                 if "inverseBindMatrices" in self.skin else np.tile(np.eye(4), (len(self.skin["joints"]), 1, 1)))
        m = np.stack([asset.view @ world[j][-1] @ b for j, b in zip(self.skin["joints"], binds)])
        blend = np.tensordot(self.weights, m, 1)
        return np.einsum("vij,vj->vi", blend[:, :3, :3], self.points) + blend[:, :3, 3]


def normals(points, triangles):
    face = np.cross(points[triangles[:, 1]] - points[triangles[:, 0]], points[triangles[:, 2]] - points[triangles[:, 0]])
    n = np.stack([np.bincount(triangles.T.ravel(), np.tile(face[:, i], 3), len(points)) for i in range(3)], 1)
    length = np.linalg.norm(n, axis=1, keepdims=True)
    return n / np.where(length > 0, length, 1)


def on_triangle(p, a, b, c):
    """Shares of the corners at the nearest point (Ericson, Real-Time Collision Detection, 2005, section 5.1.5)."""
    ab, ac, ap = b - a, c - a, p - a
    dot = lambda x, y: (x * y).sum(-1)
    d1, d2 = dot(ab, ap), dot(ac, ap)
    d3, d4 = dot(ab, p - b), dot(ac, p - b)
    d5, d6 = dot(ab, p - c), dot(ac, p - c)
    va, vb, vc = d3 * d6 - d5 * d4, d5 * d2 - d1 * d6, d1 * d4 - d3 * d2
    whole = np.where(va + vb + vc == 0, 1, va + vb + vc)
    v, w = vb / whole, vc / whole
    quotient = lambda x, y: x / np.where(y == 0, 1, y)
    for where, tv, tw in (
            ((va <= 0) & (d4 - d3 >= 0) & (d5 - d6 >= 0), 1 - quotient(d4 - d3, d4 - d3 + d5 - d6), quotient(d4 - d3, d4 - d3 + d5 - d6)),
            ((vb <= 0) & (d2 >= 0) & (d6 <= 0), 0 * v, quotient(d2, d2 - d6)),
            ((vc <= 0) & (d1 >= 0) & (d3 <= 0), quotient(d1, d1 - d3), 0 * w),
            ((d6 >= 0) & (d5 <= d6), 0 * v, 0 * w + 1),
            ((d3 >= 0) & (d4 <= d3), 0 * v + 1, 0 * w),
            ((d1 <= 0) & (d2 <= 0), 0 * v, 0 * w)):
        v, w = np.where(where, tv, v), np.where(where, tw, w)
    return np.stack([1 - v - w, v, w], -1)


def below(points, body, triangles, candidates=24):
    """How far points lie below a surface; negative above it."""
    corners = body[triangles]
    near = cKDTree(corners.mean(1)).query(points, candidates)[1]
    t = corners[near]
    shares = on_triangle(points[:, None], t[:, :, 0], t[:, :, 1], t[:, :, 2])
    at = (shares[..., None] * t).sum(2)
    far = np.linalg.norm(points[:, None] - at, axis=2)
    best = far.argmin(1)
    row = np.arange(len(points))
    n = (shares[row, best][..., None] * normals(body, triangles)[triangles[near[row, best]]]).sum(1)
    side = ((points - at[row, best]) * n).sum(1)
    return np.where(side < 0, far[row, best], -far[row, best])


def facing(points, n):
    """Pairs that face each other through the part: each vertex with the nearest that faces the other way."""
    far, near = cKDTree(points).query(points, min(256, len(points)))
    opposite = np.einsum("vi,vki->vk", n, n[near]) < -0.5
    # Behind it, not across a gap.
    behind = np.einsum("vi,vki->vk", n, points[near] - points[:, None]) < 0
    found = opposite & behind
    first = found.argmax(1)
    row = np.where(found.any(1))[0]
    return row, near[row, first[row]]


def figures(item):
    asset = motion.Asset(item["file"])
    body, worn = Part(asset, item["body"]), Part(asset, item["worn"])
    names = [asset.nodes[j].get("name", "") for j in worn.skin["joints"]]
    still = asset.world(None, np.zeros(1))[0]
    rest, below_it = worn.posed(asset, still), body.posed(asset, still)
    skin = body.nearest_piece(below_it, rest) if item.get("nearest") else body.largest_piece()
    length = np.linalg.norm(rest[worn.edges[:, 0]] - rest[worn.edges[:, 1]], axis=1)
    real = length > 1e-6
    edges, length = worn.edges[real], length[real]
    a, b = facing(rest, normals(rest, worn.triangles))
    through = np.linalg.norm(rest[a] - rest[b], axis=1)
    clear = below(rest, below_it, skin) <= DEEP
    stretch, deep, thickness, worst = [], [], [], []
    for name, clip in asset.clips.items():
        world = asset.world(clip, np.array([asset.range(clip)[1]]))[0]
        p = worn.posed(asset, world)
        stretch.append(np.linalg.norm(p[edges[:, 0]] - p[edges[:, 1]], axis=1) / length)
        deep.append((clear & (below(p, body.posed(asset, world), skin) > DEEP)).sum())
        thickness.append(np.abs(np.linalg.norm(p[a] - p[b], axis=1) / through - 1).mean() if len(a) else 0)
        worst.append((name, round(float((stretch[-1] > LONG).mean()), 4), int(deep[-1])))
    all_ = np.concatenate(stretch)
    left = rest[:, 0]
    wrong = np.zeros(len(rest))
    for j, joint in enumerate(names):
        side = 1 if joint.startswith("left") else -1 if joint.startswith("right") else 0
        wrong += np.where(left * side < 0, worn.weights[:, j], 0)
    return {"name": item["name"], "stretch": float(np.quantile(all_, 0.999)), "most": float(all_.max()), "long": float((all_ > LONG).mean()),
            "deep": float(np.mean(deep)), "thickness": float(np.mean(thickness)),
            "other": int(((np.abs(left) > MIDDLE) & (wrong > SHARE)).sum()), "vertices": len(rest), "poses": len(deep),
            "byPose": worst}


if __name__ == "__main__":
    json.dump([figures(i) for i in json.load(open(sys.argv[1]))], sys.stdout)
