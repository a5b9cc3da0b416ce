// What a second, independent reader of USD (npm tinyusdz, in headless Chromium) understands of scenes, text or binary:
// node tinyusd.mjs IN OUT [IN OUT ...]. OUT becomes the text it writes of every value it has read. Prints one JSON line a scene:
// {"file", "said": what it complained about, "meshes": [{"path", "points", "corners"}] where it can make a scene to draw of it,
//  "undrawn": why it cannot}.
import fs from 'node:fs';
import path from 'node:path';
import { createRequire } from 'node:module';
import { inBrowser, pageOf } from './browser.mjs';

const folder = path.dirname(createRequire(import.meta.url).resolve('tinyusdz'));
const files = process.argv.slice(2);
await inBrowser(async (context) => {
  const page = await pageOf(context, folder, files, '<title>tinyusdz</title>');
  await page.evaluate(async () => {
    window.usd = await (await import('/tinyusdz.js')).default({ locateFile: (f) => '/' + f });
  });
  for (let i = 0; i + 1 < files.length; i += 2) {
    const found = await page.evaluate(async ([n, name]) => {
      const bytes = new Uint8Array(await (await fetch('/scene' + n)).arrayBuffer());
      const layer = new usd.TinyUSDZLoaderNative();
      const read = layer.loadAsLayerFromBinary(bytes, name);
      const scene = new usd.TinyUSDZLoaderNative();
      const drawn = scene.loadFromBinary(bytes, name);
      const meshes = [];
      for (let m = 0; drawn && m < scene.numMeshes(); m++) {
        const mesh = scene.getMesh(m);
        meshes.push({ path: mesh.absPath, points: Array.from(mesh.points), corners: Array.from(mesh.faceVertexIndices) });
      }
      return {
        text: read ? layer.layerToString() : null,
        said: [layer.error()].filter((s) => s),
        meshes,
        undrawn: drawn ? undefined : scene.error(),
      };
    }, [i, path.basename(files[i])]);
    if (found.text === null) throw new Error(files[i] + ' cannot be opened: ' + found.said.join('; '));
    fs.writeFileSync(files[i + 1], found.text);
    console.log(JSON.stringify({ file: files[i + 1], said: found.said, meshes: found.meshes, undrawn: found.undrawn }));
  }
});
