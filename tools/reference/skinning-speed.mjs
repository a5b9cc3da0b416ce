// Milliseconds that three.js needs to skin every vertex of a GLB on the CPU, median of many:
// node skinning-speed.mjs FILE
import { THREE, load, pose, meshes } from './scene.mjs';
const gltf = await load(process.argv[2]);
pose(gltf, null, 0);
const skinned = meshes(gltf).map(m => m.object).filter(o => o.isSkinnedMesh);
const v = new THREE.Vector3();
const times = [];
let vertices = 0;
for (let run = 0; run < 25; run++) {
  const start = performance.now();
  vertices = 0;
  for (const mesh of skinned) {
    const position = mesh.geometry.attributes.position;
    for (let i = 0; i < position.count; i++) {
      v.fromBufferAttribute(position, i);
      mesh.applyBoneTransform(i, v);
    }
    vertices += position.count;
  }
  times.push(performance.now() - start);
}
times.sort((a, b) => a - b);
console.log(JSON.stringify({ vertices, medianMilliseconds: times[12] }));
