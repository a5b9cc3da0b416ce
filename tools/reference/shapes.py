#!/usr/bin/python3
# Hulls, smallest spheres, tightest boxes and distances of convex bodies by SciPy, to hold ours against.
#   volume of the hull: Qhull. sphere: the convex programme min r, |c - p| <= r (SLSQP).
#   box: volume over all turns, minimised by Nelder and Mead from 60 random turns.
#   gap: between two hulls from the hull of their Minkowski difference, the origin's distance to it, or minus its depth in it.
# Writes core/src/test/resources/org/cleanmarrow/collision/shapes.json. Run: tools/reference/shapes.py (numpy, scipy)
import json, os
import numpy as np
from scipy.optimize import minimize
from scipy.spatial import ConvexHull
from scipy.spatial.transform import Rotation

rng = np.random.default_rng(16)


def sphere(p):
    p = p[ConvexHull(p).vertices]
    c0 = p.mean(axis=0)
    x0 = np.append(c0, np.linalg.norm(p - c0, axis=1).max())
    con = {"type": "ineq", "fun": lambda x: x[3] ** 2 - ((p - x[:3]) ** 2).sum(axis=1)}
    r = minimize(lambda x: x[3], x0, constraints=[con], method="SLSQP", options={"ftol": 1e-15, "maxiter": 2000})
    return np.linalg.norm(p - r.x[:3], axis=1).max()


def box(p):
    p = p[ConvexHull(p).vertices]
    vol = lambda v: np.prod(np.ptp(Rotation.from_rotvec(v).apply(p), axis=0))
    best = np.inf
    for start in Rotation.random(60, random_state=16).as_rotvec():
        best = min(best, minimize(vol, start, method="Nelder-Mead", options={"xatol": 1e-10, "fatol": 1e-14, "maxiter": 4000}).fun)
    return best


def gap(a, b):
    d = (a[:, None, :] - b[None, :, :]).reshape(-1, 3)
    h = ConvexHull(d)
    if (h.equations[:, 3] <= 0).all():
        return h.equations[:, 3].max()
    best = np.inf
    for s in h.simplices:
        p, q, r = d[s]
        e, f = q - p, r - p
        # Nearest point of a triangle by its own small programme, over the inside, the edges and the corners.
        for cand in nearest(p, e, f):
            best = min(best, np.linalg.norm(cand))
    return best


def nearest(p, e, f):
    m = np.array([[e @ e, e @ f], [e @ f, f @ f]])
    u, v = np.linalg.solve(m, [-p @ e, -p @ f])
    if u >= 0 and v >= 0 and u + v <= 1:
        yield p + u * e + v * f
    for a, b in ((p, e), (p, f), (p + e, f - e)):
        yield a + np.clip(-a @ b / (b @ b), 0, 1) * b


def some(kind, n):
    turn = Rotation.random(random_state=int(rng.integers(1 << 30)))
    size = rng.uniform(0.2, 2, 3)
    if kind == "ball":
        p = rng.standard_normal((n, 3))
        p /= np.linalg.norm(p, axis=1)[:, None]
    elif kind == "box":
        p = rng.uniform(-1, 1, (n, 3))
        p[np.arange(n), rng.integers(0, 3, n)] = rng.choice([-1, 1], n)
    else:
        p = rng.standard_normal((n, 3))
    return turn.apply(p * size) + rng.uniform(-3, 3, 3)


fits = []
for i in range(18):
    p = some(("ball", "box", "cloud")[i % 3], int(rng.integers(8, 120)))
    fits.append({"points": p.ravel().tolist(), "hull": ConvexHull(p).volume, "sphere": sphere(p), "box": box(p)})
pairs = []
for i in range(40):
    a = some(("ball", "box", "cloud")[i % 3], 24)
    b = some(("cloud", "ball", "box")[i % 3], 24)
    b += (a.mean(axis=0) - b.mean(axis=0)) * (1 if i % 2 else rng.uniform(0, 0.9))
    pairs.append({"a": a.ravel().tolist(), "b": b.ravel().tolist(), "gap": gap(a, b)})
path = os.path.join(os.path.dirname(__file__), "../../core/src/test/resources/org/cleanmarrow/collision/shapes.json")
os.makedirs(os.path.dirname(path), exist_ok=True)
json.dump({"fits": fits, "pairs": pairs}, open(path, "w"))
