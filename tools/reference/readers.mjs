// What three.js reads from an OBJ, PLY or BVH file: node readers.mjs FILE > numbers.json
// OBJ, PLY: corners of all triangles in the file's space, colours and normals of PLY vertices.
// BVH: world positions of all bones at five moments, and how long reading took (median of several, milliseconds).
import fs from 'node:fs';
globalThis.self = globalThis;
const THREE = await import('three');
const file = process.argv[2];
const bytes = fs.readFileSync(file);
const text = () => bytes.toString('utf8');
// The loaders chatter; only the numbers go out.
console.log = () => {};
const out = { source: `three.js ${THREE.REVISION}` };

if (file.endsWith('.obj')) {
  const { OBJLoader } = await import('three/addons/loaders/OBJLoader.js');
  const corners = [];
  let points = 0;
  new OBJLoader().parse(text()).traverse(o => {
    const position = o.geometry?.attributes.position;
    if (o.isMesh) corners.push(...position.array);
    else if (o.isPoints) points += position.count;
  });
  Object.assign(out, { corners, points });
} else if (file.endsWith('.ply')) {
  const { PLYLoader } = await import('three/addons/loaders/PLYLoader.js');
  const g = new PLYLoader().parse(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength));
  const list = name => (g.attributes[name] ? [...g.attributes[name].array] : null);
  Object.assign(out, { positions: list('position'), normals: list('normal'), index: g.index ? [...g.index.array] : null });
} else {
  const { BVHLoader } = await import('three/addons/loaders/BVHLoader.js');
  const times = [];
  let result;
  for (let i = 0; i < 9; i++) {
    const start = performance.now();
    result = new BVHLoader().parse(text());
    times.push(performance.now() - start);
  }
  const bones = result.skeleton.bones;
  const mixer = new THREE.AnimationMixer(bones[0]);
  mixer.clipAction(result.clip).setLoop(THREE.LoopOnce).play();
  out.milliseconds = times.sort((a, b) => a - b)[4];
  out.bones = bones.map(b => b.name);
  out.moments = [0, 0.21, 0.5, 0.77, 0.96].map(share => {
    const seconds = Math.fround(result.clip.duration * share);
    mixer.setTime(seconds);
    bones[0].updateMatrixWorld(true);
    const v = new THREE.Vector3();
    return { seconds, positions: bones.flatMap(b => v.setFromMatrixPosition(b.matrixWorld).toArray()) };
  });
}
process.stdout.write(JSON.stringify(out));
