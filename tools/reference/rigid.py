"""Rotations that bring points nearest to others, by SciPy: python3 rigid.py > rigid.json

Each case: points, where they went (a turn, a shift, noise), weights, and SciPy's Rotation.align_vectors of both about their weighted
means, as a matrix in rows. Some cases lie in a plane or are mirrored, where a fit without care reflects.
"""
import json

import numpy as np
import scipy
from scipy.spatial.transform import Rotation

rng = np.random.default_rng(17)
cases = []
for number in range(24):
    count = int(rng.integers(4, 30))
    p = rng.normal(size=(count, 3))
    if number % 4 == 1:
        p[:, 2] = 0
    turn = Rotation.random(random_state=rng)
    q = turn.apply(p) + rng.normal(size=3) * 5 + rng.normal(size=(count, 3)) * [0, 0.01, 0.3][number % 3]
    if number % 4 == 2:
        q[:, 0] *= -1
    w = rng.uniform(0.1, 1, count)
    pm, qm = np.average(p, axis=0, weights=w), np.average(q, axis=0, weights=w)
    found, _ = Rotation.align_vectors(q - qm, p - pm, weights=w)
    cases.append({"p": p.round(9).ravel().tolist(), "q": q.round(9).ravel().tolist(), "w": w.round(9).tolist(),
                  "turn": found.as_matrix().ravel().tolist()})
print(json.dumps({"source": f"SciPy {scipy.__version__}, Rotation.align_vectors, seed 17", "cases": cases}))
