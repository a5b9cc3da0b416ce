#!/usr/bin/python3
# Layouts of triangles in texture coordinates, to hold ours against: islands by SciPy's connected components over shared edges,
# overlap by clipping every pair of triangles and taking the area, singular values by NumPy's SVD of each triangle's map.
# Writes core/src/test/resources/org/cleanmarrow/uv/uv.json. Run: tools/reference/uv.py (numpy, scipy)
import json, os
import numpy as np
from scipy.sparse import coo_matrix
from scipy.sparse.csgraph import connected_components

rng = np.random.default_rng(46)


def clipped(subject, clip):
    """Area that two triangles share: Sutherland and Hodgman."""
    def cross(o, a, b):
        return (a[0] - o[0]) * (b[1] - o[1]) - (a[1] - o[1]) * (b[0] - o[0])
    if cross(*clip) < 0:
        clip = clip[::-1]
    out = list(subject)
    for i in range(3):
        a, b = clip[i], clip[(i + 1) % 3]
        given, out = out, []
        for k in range(len(given)):
            p, q = given[k - 1], given[k]
            sp, sq = cross(a, b, p), cross(a, b, q)
            if (sp >= 0) != (sq >= 0):
                t = sp / (sp - sq)
                out.append(p + t * (q - p))
            if sq >= 0:
                out.append(q)
        if not out:
            return 0.0
    x, y = np.array(out).T
    return abs(np.dot(x, np.roll(y, 1)) - np.dot(y, np.roll(x, 1))) / 2


def patch(rows, columns, place, lift, step):
    """A bent sheet and where it lies in the picture: vertices, texture coordinates, triangles."""
    j, i = np.meshgrid(np.arange(columns + 1), np.arange(rows + 1))
    flat = np.stack([j.ravel(), i.ravel()], 1).astype(float)
    p = np.stack([flat[:, 0] * step, lift * np.sin(flat[:, 0] * 0.7) + lift * rng.normal(0, 0.1, len(flat)), flat[:, 1] * step], 1)
    uv = place + flat * step * 0.4 + rng.normal(0, step * 0.05, flat.shape)
    tri = []
    for r in range(rows):
        for c in range(columns):
            a = r * (columns + 1) + c
            tri += [[a, a + columns + 1, a + 1], [a + 1, a + columns + 1, a + columns + 2]]
    return p, uv, np.array(tri)


out = []
for places in ([(0.05, 0.05)], [(0.05, 0.05), (0.6, 0.1), (0.1, 0.6)], [(0.05, 0.05), (0.2, 0.15), (0.5, 0.5), (0.52, 0.47)]):
    ps, uvs, tris, at = [], [], [], 0
    for k, place in enumerate(places):
        p, uv, tri = patch(4 + k, 5, np.array(place), 0.2 + 0.1 * k, 0.1)
        p[:, 1] += 3 * k
        ps.append(p), uvs.append(uv), tris.append(tri + at)
        at += len(p)
    p = np.concatenate(ps).astype(np.float32).astype(float)
    uv = np.concatenate(uvs).astype(np.float32).astype(float)
    tri = np.concatenate(tris)
    # In any order.
    rng.shuffle(tri)
    n = len(tri)
    edges = {}
    for t in range(n):
        for k in range(3):
            edges.setdefault(frozenset((tri[t][k], tri[t][(k + 1) % 3])), []).append(t)
    pairs = [(e[0], o) for e in edges.values() for o in e]
    graph = coo_matrix((np.ones(len(pairs)), tuple(np.array(pairs).T)), shape=(n, n))
    count, island = connected_components(graph, directed=False)
    overlapping = np.zeros(n, bool)
    for a in range(n):
        for b in range(a):
            if clipped(list(uv[tri[a]]), list(uv[tri[b]])) > 1e-9:
                overlapping[a] = overlapping[b] = True
    large, small, area, pictured = [], [], [], []
    for t in range(n):
        a, b, c = tri[t]
        picture = np.stack([uv[b] - uv[a], uv[c] - uv[a]], 1)
        surface = np.stack([p[b] - p[a], p[c] - p[a]], 1)
        s = np.linalg.svd(surface @ np.linalg.inv(picture), compute_uv=False)
        large.append(s[0]), small.append(s[1])
        area.append(np.linalg.norm(np.cross(surface[:, 0], surface[:, 1])) / 2)
        pictured.append(abs(np.linalg.det(picture)) / 2)
    large, small, area, pictured = map(np.array, (large, small, area, pictured))
    mean = np.sqrt(area.sum() / pictured.sum())
    root = np.sqrt((area * (large**2 + small**2) / 2).sum() / area.sum()) / mean
    out.append({
        "positions": p.ravel().tolist(), "uv": uv.ravel().tolist(), "triangles": tri.ravel().tolist(), "islands": count,
        "island": island.tolist(), "overlapping": np.flatnonzero(overlapping).tolist(),
        "scale": (np.sqrt(large * small) / mean).tolist(), "shear": (large / small).tolist(), "root": root})
target = os.path.join(os.path.dirname(__file__), "../../core/src/test/resources/org/cleanmarrow/uv/uv.json")
with open(target, "w") as f:
    json.dump(out, f)
print([(o["islands"], len(o["overlapping"]), len(o["island"]), round(o["root"], 4)) for o in out])
