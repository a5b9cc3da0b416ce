#!/usr/bin/python3
# Voronoi cells of seeds in a box by SciPy's Qhull, to hold ours against. A seed mirrored at the six sides of the box has the sides as
# borders of its cell, so that all cells of the seeds themselves are closed and end at the box.
# Corners are those of cells that do not reach the box, 0 of the others.
# Writes core/src/test/resources/org/cleanmarrow/caches/cells.json. Run: tools/reference/cells.py (numpy, scipy)
import json, os
import numpy as np
from scipy.spatial import ConvexHull, Voronoi

rng = np.random.default_rng(8)
out = []
for many in (2, 9, 60):
    size = rng.uniform(0.5, 2, 3)
    seeds = rng.uniform(0, 1, (many, 3)) * size
    mirrored = [seeds]
    for axis in range(3):
        for side in (0.0, size[axis]):
            m = seeds.copy()
            m[:, axis] = 2 * side - m[:, axis]
            mirrored.append(m)
    v = Voronoi(np.concatenate(mirrored))
    volumes = [ConvexHull(v.vertices[v.regions[v.point_region[i]]]).volume for i in range(many)]
    corners = []
    for i in range(many):
        at = v.vertices[v.regions[v.point_region[i]]]
        inside = (at > 1e-9).all() and (at < size - 1e-9).all()
        corners.append(len(at) if inside else 0)
    out.append({"size": size.tolist(), "seeds": seeds.ravel().tolist(), "volumes": volumes, "corners": corners})
target = os.path.join(os.path.dirname(__file__), "../../core/src/test/resources/org/cleanmarrow/caches/cells.json")
with open(target, "w") as f:
    json.dump(out, f)
