// Where three.js puts vertices: node witness.mjs FILE SAMPLES [CLIPS…] > fixture.json
// The clips are those of FILE, or where others are named those of them, played on the model of FILE by the names of nodes.
// Every mesh at rest and at five moments of every clip, about SAMPLES vertices each, in the file's world.
import path from 'node:path';
import { THREE, load, pose, meshes } from './scene.mjs';

const [file, samples, ...others] = process.argv.slice(2);
const gltf = await load(file);
for (const other of others) gltf.animations.push(...(await load(other)).animations);
const out = { source: `three.js ${THREE.REVISION}, GLTFLoader, SkinnedMesh.getVertexPosition, AnimationMixer`, file: path.basename(file), moments: [] };
const moments = [[null, 0]];
gltf.animations.forEach((clip, i) => {
  for (const share of [0.05, 0.27, 0.5, 0.733, 0.97]) moments.push([i, Math.fround(clip.duration * share)]);
});
const v = new THREE.Vector3();
for (const [clip, seconds] of moments) {
  pose(gltf, clip, seconds);
  const list = meshes(gltf).map(({ object, node, primitive }) => {
    const count = object.geometry.attributes.position.count;
    const step = Math.max(1, Math.floor(count / Number(samples)));
    const vertices = [], positions = [];
    for (let i = 0; i < count; i += step) {
      object.getVertexPosition(i, v);
      v.applyMatrix4(object.matrixWorld);
      vertices.push(i);
      positions.push(+v.x.toPrecision(9), +v.y.toPrecision(9), +v.z.toPrecision(9));
    }
    return { node, primitive, vertices, positions };
  });
  out.moments.push({ clip: clip ?? -1, seconds, meshes: list });
}
console.log(JSON.stringify(out));
