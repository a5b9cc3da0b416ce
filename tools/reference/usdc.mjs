// Writes scenes of USD in another form by the reference implementation (OpenUSD 22, as npm three-usdz-loader 1.0.9 packs it, in
// headless Chromium): node usdc.mjs IN OUT [IN OUT ...]. The form is that of OUT's ending, usda or usdc. Prints one JSON line a scene:
// {"file", "bytes", "said": what it complained about}.
import fs from 'node:fs';
import path from 'node:path';
import { createRequire } from 'node:module';
import { inBrowser, pageOf } from './browser.mjs';

const external = path.join(path.dirname(createRequire(import.meta.url).resolve('three-usdz-loader')), '../external');
const files = process.argv.slice(2);
await inBrowser(async (context) => {
  const page = await pageOf(context, external, files, '<script src="/emHdBindings.js"></script>');
  let said = [];
  // Kinds of scenes that this build leaves out are none of ours.
  page.on('console', (m) => { if (/Error|Warning/.test(m.text()) && !/UsdVol/.test(m.text())) said.push(m.text()); });
  page.on('pageerror', (e) => said.push(String(e)));
  await page.evaluate(async () => {
    const locateFile = (f) => '/' + f.replace(/^\/+/, '');
    window.usd = await getUsdModule({ mainScriptUrlOrBlob: '/emHdBindings.js', locateFile }, '');
  });
  for (let i = 0; i + 1 < files.length; i += 2) {
    said = [];
    const [from, to] = [path.extname(files[i]), path.extname(files[i + 1])];
    const out = await page.evaluate(async ([n, from, to]) => {
      const [a, b] = [`in${n}${from}`, `out${n}${to}`];
      const bytes = new Uint8Array(await (await fetch('/scene' + n)).arrayBuffer());
      usd.FS_createDataFile('/', a, bytes, true, true, true);
      const stage = usd.UsdStage.Open(a);
      if (!stage) return null;
      stage.Export(b, false);
      let text = '';
      for (const byte of usd.FS.readFile(b)) text += String.fromCharCode(byte);
      return btoa(text);
    }, [i, from, to]);
    if (out === null) throw new Error(files[i] + ' cannot be opened: ' + said.join('; '));
    fs.writeFileSync(files[i + 1], Buffer.from(out, 'base64'));
    console.log(JSON.stringify({ file: files[i + 1], bytes: fs.statSync(files[i + 1]).size, said }));
  }
});
