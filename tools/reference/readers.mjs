// What three.js reads from an OBJ, PLY, BVH or COLLADA file: node readers.mjs FILE > numbers.json
// OBJ, PLY: corners of all triangles in the file's space, colours and normals of PLY vertices.
// COLLADA: corners of all triangles in the world at rest, and of each clip world positions of all named nodes at five
// moments, with middle points of the triangles' corners as the skins have them; unit and up axis are left to the reader.
// BVH: world positions of all bones at five moments, and how long reading took (median of several, milliseconds).
import fs from 'node:fs';
globalThis.self = globalThis;
const THREE = await import('three');
const file = process.argv[2];
const bytes = fs.readFileSync(file);
const text = () => bytes.toString('utf8');
// The loaders chatter; only the numbers go out.
console.log = console.debug = console.info = () => {};
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
} else if (/\.dae$/i.test(file)) {
  const { DOMParser, Node } = await import('@xmldom/xmldom');
  // The parser lacks what the loader asks browsers for: images, and node kinds as global names.
  Object.assign(globalThis, { Node, DOMParser });
  globalThis.document = { createElementNS: () => ({ addEventListener() {}, removeEventListener() {}, style: {} }) };
  Object.assign(globalThis, { Request: class {}, fetch: () => new Promise(() => {}) });
  console.warn = console.error = () => {};
  const { ColladaLoader } = await import('three/addons/loaders/ColladaLoader.js');
  const { scene } = new ColladaLoader().parse(text(), '');
  scene.rotation.set(0, 0, 0);
  scene.scale.set(1, 1, 1);
  const v = new THREE.Vector3();
  const corners = () => {
    const list = [];
    scene.updateMatrixWorld(true);
    scene.traverse(o => {
      if (!o.isMesh) return;
      if (o.isSkinnedMesh) o.skeleton.update();
      const { position } = o.geometry.attributes;
      const index = o.geometry.index;
      const count = index ? index.count : position.count;
      for (let i = 0; i < count; i++) {
        o.getVertexPosition(index ? index.getX(i) : i, v);
        list.push(...v.applyMatrix4(o.matrixWorld).toArray());
      }
    });
    return list;
  };
  out.corners = corners();
  out.bones = 0;
  scene.traverse(o => (out.bones += o.isBone ? 1 : 0));
  const mixer = new THREE.AnimationMixer(scene);
  out.clips = scene.animations.map(clip => {
    mixer.stopAllAction();
    mixer.clipAction(clip).setLoop(THREE.LoopOnce).play();
    return {
      name: clip.name,
      moments: [0, 0.21, 0.5, 0.77, 0.96].map(share => {
        const seconds = Math.fround(clip.duration * share);
        mixer.setTime(seconds);
        const now = corners();
        const middle = [0, 1, 2].map(d => now.filter((_, i) => i % 3 === d).reduce((a, b) => a + b, 0) / (now.length / 3 || 1));
        const nodes = {};
        scene.traverse(o => o.name && (nodes[o.name] = v.setFromMatrixPosition(o.matrixWorld).toArray()));
        return { seconds, middle, nodes };
      })
    };
  });
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
