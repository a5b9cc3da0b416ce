// Convex parts of solids by V-HACD (Mamou 2016): npm install --no-save vhacd-js@0.0.1 && node convex.mjs FILE, a list of {name,
// positions, corners, most}. Prints the list with the number of hulls and the sum of their volumes. Takes minutes, so its answers
// are kept: core/src/test/resources/org/cleanmarrow/collision/convex.json.
import fs from 'node:fs';
import { ConvexMeshDecomposition } from 'vhacd-js/lib/vhacd.js';

const decomposition = await ConvexMeshDecomposition.create();

function volume(points, corners) {
  let six = 0;
  for (let i = 0; i < corners.length; i += 3) {
    const [a, b, c] = [0, 1, 2].map((k) => points.slice(3 * corners[i + k], 3 * corners[i + k] + 3));
    six += a[0] * (b[1] * c[2] - b[2] * c[1]) + a[1] * (b[2] * c[0] - b[0] * c[2]) + a[2] * (b[0] * c[1] - b[1] * c[0]);
  }
  return six / 6;
}

const out = JSON.parse(fs.readFileSync(process.argv[2], 'utf8')).map((one) => {
  const hulls = decomposition.computeConvexHulls(
    { positions: Float64Array.from(one.positions), indices: Uint32Array.from(one.corners) },
    { maxHulls: one.most },
  );
  const sum = hulls.reduce((all, h) => all + volume(Array.from(h.positions), h.indices), 0);
  return { ...one, theirs: { hulls: hulls.length, volume: sum } };
});
console.log(JSON.stringify(out));
