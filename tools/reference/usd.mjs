// Where three.js puts the vertices of a USD file: node usd.mjs FILE SECONDS... > JSON
// At rest and at each time of its animation, if it has one; all meshes together, in metres with Y up, every corner once a triangle.
import fs from 'node:fs';
globalThis.self = globalThis;
globalThis.window = globalThis;
globalThis.ProgressEvent = class { constructor(type, init) { Object.assign(this, { type }, init); } };
const THREE = await import('three');
const { USDLoader } = await import('three/addons/loaders/USDLoader.js');

const [file, ...seconds] = process.argv.slice(2);
const bytes = fs.readFileSync(file);
const scene = new USDLoader().parse(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength));
const clips = scene.animations ?? [];
const mixer = new THREE.AnimationMixer(scene);
const v = new THREE.Vector3();
const moments = [];
for (const at of [null, ...seconds.map(Number)]) {
  if (at !== null) {
    mixer.stopAllAction();
    for (const clip of clips) {
      const action = mixer.clipAction(clip);
      action.setLoop(THREE.LoopOnce);
      action.clampWhenFinished = true;
      action.play();
    }
    mixer.setTime(at);
  }
  scene.updateMatrixWorld(true);
  const points = [];
  scene.traverse((object) => {
    if (!object.isMesh) return;
    object.skeleton?.update();
    const count = object.geometry.attributes.position.count;
    for (let i = 0; i < count; i++) {
      object.getVertexPosition(i, v);
      v.applyMatrix4(object.matrixWorld);
      points.push(+v.x.toPrecision(8), +v.y.toPrecision(8), +v.z.toPrecision(8));
    }
  });
  moments.push({ seconds: at, points });
}
console.log(JSON.stringify({ source: `three.js ${THREE.REVISION}, USDLoader`, clips: clips.map((c) => ({ name: c.name, seconds: c.duration })), moments }));
