// Loads a GLB or self-contained glTF with three.js in plain Node.
import fs from 'node:fs';
import path from 'node:path';
globalThis.self = globalThis;
globalThis.ProgressEvent = class { constructor(type, init) { Object.assign(this, { type }, init); } };
const THREE = await import('three');
const { GLTFLoader } = await import('three/addons/loaders/GLTFLoader.js');

export { THREE };

export async function load(file) {
  const bytes = fs.readFileSync(file);
  const loader = new GLTFLoader();
  loader.register(() => ({ name: 'no-pictures', loadTexture: () => Promise.resolve(new THREE.Texture()) }));
  if (file.endsWith('.glb')) {
    return loader.parseAsync(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength), '');
  }
  const json = JSON.parse(bytes.toString('utf8'));
  for (const buffer of json.buffers ?? []) {
    if (buffer.uri && !buffer.uri.startsWith('data:')) {
      const data = fs.readFileSync(path.join(path.dirname(file), decodeURIComponent(buffer.uri)));
      buffer.uri = 'data:application/octet-stream;base64,' + data.toString('base64');
    }
  }
  return loader.parseAsync(JSON.stringify(json), '');
}

// Poses a loaded scene: clip null is the rest pose.
export function pose(gltf, clip, seconds) {
  if (clip !== null) {
    gltf.mixer ??= new THREE.AnimationMixer(gltf.scene);
    gltf.mixer.stopAllAction();
    const action = gltf.mixer.clipAction(gltf.animations[clip]);
    action.setLoop(THREE.LoopOnce);
    action.clampWhenFinished = true;
    action.play();
    gltf.mixer.setTime(seconds);
  }
  gltf.scene.updateMatrixWorld(true);
}

export function meshes(gltf) {
  const found = [];
  gltf.scene.traverse(o => {
    if (!o.isMesh) return;
    const a = gltf.parser.associations.get(o) ?? {};
    let node = o;
    while (node && gltf.parser.associations.get(node)?.nodes === undefined) node = node.parent;
    found.push({ object: o, node: node ? gltf.parser.associations.get(node).nodes : -1, primitive: a.primitives ?? 0 });
  });
  return found;
}
