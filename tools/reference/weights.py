#!/usr/bin/python3
# Weights solved by SciPy, to hold ours against: a smooth fill of a bumpy sheet with a hole in what is known (inpainting
# energy of Abdrashitov et al. 2023), and heat weights (Baran and Popovic 2007) and bounded biharmonic weights (Jacobson et
# al. 2011) of a closed capsule with three bones in a row.
# Writes core/src/test/resources/org/cleanmarrow/weights/solved.json. Run: tools/reference/weights.py (numpy, scipy)
import json, os
import numpy as np
import scipy.sparse as sp
import scipy.sparse.linalg as sla
from scipy.optimize import lsq_linear


def laplacian(p, t):
    rows, cols, vals = [], [], []
    for k in range(3):
        i, j, o = t[:, k], t[:, (k + 1) % 3], t[:, (k + 2) % 3]
        a, b = p[i] - p[o], p[j] - p[o]
        cot = (a * b).sum(1) / np.linalg.norm(np.cross(a, b), axis=1) / 2
        rows += [i, j]; cols += [j, i]; vals += [cot, cot]
    n = len(p)
    w = sp.coo_matrix((np.concatenate(vals), (np.concatenate(rows), np.concatenate(cols))), (n, n)).tocsr()
    w.data = np.maximum(w.data, 1e-6)
    return sp.diags(np.asarray(w.sum(1)).ravel()) - w


def areas(p, t):
    a = np.linalg.norm(np.cross(p[t[:, 1]] - p[t[:, 0]], p[t[:, 2]] - p[t[:, 0]]), axis=1) / 2
    m = np.zeros(len(p))
    for k in range(3):
        np.add.at(m, t[:, k], a / 3)
    return m


def sheet():
    w = 24
    p, t = [], []
    for y in range(w):
        for x in range(w):
            p.append([x, y, 1.5 * np.sin(x * 0.5) * np.cos(y * 0.4)])
    for y in range(w - 1):
        for x in range(w - 1):
            i = y * w + x
            t += [[i, i + 1, i + w + 1], [i, i + w + 1, i + w]]
    p, t = np.float32(np.array(p)).astype(float), np.array(t)
    x, y = p[:, 0], p[:, 1]
    a = 1 / (1 + np.exp(-(x - 11.5) * 0.5))
    b = (1 - a) * np.clip(y / (w - 1), 0, 1)
    full = np.stack([a, b, 1 - a - b], 1)
    known = (x - 12) ** 2 + (y - 11) ** 2 > 49
    L = laplacian(p, t)
    m = areas(p, t)
    m = m / m.mean()
    Q = (L + L @ sp.diags(1 / m) @ L).tocsr()
    u = ~known
    x = sla.spsolve(Q[u][:, u].tocsc(), -Q[u][:, known] @ full[known])
    out = full.copy()
    out[u] = np.clip(x, 0, 1)
    out /= out.sum(1, keepdims=True)
    return dict(points=p.ravel().tolist(), triangles=t.ravel().tolist(), known=np.where(known)[0].tolist(),
                rows=full.ravel().tolist(), solved=out.ravel().tolist())


def capsule():
    around, rings, radius, length = 16, 33, 0.25, 3.0
    p, t = [[0, -radius, 0]], []
    profile = []
    for k in range(1, 5):
        s = np.pi / 2 * (k / 5 - 1)
        profile.append((radius * np.sin(s), radius * np.cos(s)))
    for k in range(rings):
        profile.append((length * k / (rings - 1), radius))
    for k in range(1, 5):
        s = np.pi / 2 * k / 5
        profile.append((length + radius * np.sin(s), radius * np.cos(s)))
    for h, r in profile:
        for i in range(around):
            p.append([r * np.cos(2 * np.pi * i / around), h, r * np.sin(2 * np.pi * i / around)])
    p.append([0, length + radius, 0])
    for i in range(around):
        j = (i + 1) % around
        t.append([0, 1 + i, 1 + j])
        for k in range(len(profile) - 1):
            a, b = 1 + k * around, 1 + (k + 1) * around
            t += [[a + i, b + i, b + j], [a + i, b + j, a + j]]
        last = 1 + (len(profile) - 1) * around
        t.append([last + j, last + i, len(p) - 1])
    p, t = np.float32(np.array(p)).astype(float), np.array(t)
    L, m = laplacian(p, t), areas(p, t)
    lines = [((0, k, 0), (0, k + 1, 0)) for k in range(3)]
    d = []
    for a, b in lines:
        a, b = np.array(a, float), np.array(b, float)
        s = np.clip(((p - a) @ (b - a)) / ((b - a) @ (b - a)), 0, 1)
        d.append(np.linalg.norm(p - a - s[:, None] * (b - a), axis=1))
    d = np.stack(d, 1)
    near = d.min(1)
    owners = (d <= near[:, None] * 1.0001).astype(float)
    owners /= owners.sum(1, keepdims=True)
    hold = m / near ** 2
    heat = sla.spsolve((L + sp.diags(hold)).tocsc(), hold[:, None] * owners)
    # Bounded biharmonic weights of each bone over the surface, sums made one: bones hold the rings at their middles.
    A = sp.diags(1 / np.sqrt(m)) @ L
    h = p[:, 1]
    held = np.full(len(p), -1)
    for k in range(3):
        held[np.abs(h - k - 0.5) < 0.2] = k
    held[h < 0.3] = 0
    held[h > 2.7] = 2
    free = held < 0
    bounded = np.zeros((len(p), 3))
    for k in range(3):
        bounded[held == k, k] = 1
        right = -(A[:, ~free] @ bounded[~free, k])
        found = lsq_linear(A[:, free].tocsr(), right, (0, 1), tol=1e-12, max_iter=500)
        bounded[free, k] = found.x
    bounded /= bounded.sum(1, keepdims=True)
    return dict(points=p.ravel().tolist(), triangles=t.ravel().tolist(), heat=heat.ravel().tolist(), bounded=bounded.ravel().tolist())


def rounded(x):
    return {k: [round(v, 6) if isinstance(v, float) else v for v in l] for k, l in x.items()}


here = os.path.dirname(os.path.abspath(__file__))
out = os.path.join(here, '../../core/src/test/resources/org/cleanmarrow/weights')
os.makedirs(out, exist_ok=True)
with open(os.path.join(out, 'solved.json'), 'w') as f:
    json.dump(dict(source='tools/reference/weights.py, SciPy ' + __import__('scipy').__version__,
                   sheet=rounded(sheet()), capsule=rounded(capsule())), f)
