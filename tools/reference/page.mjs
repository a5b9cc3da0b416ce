// Opens pages in headless Chromium, at 1280 pixels and for paper, and prints one JSON line a page:
// {"file", "requests": [what it asked for beside itself], "errors": [..], "scripts", "overflow": pixels that it is wider than the
//  window, "smallest": height of the smallest text in pixels, "images": [{"width", "height", "shown"}], "pages": of the printed one,
//  "text": what can be read}. A second argument after a file, if it ends in .png, takes a picture of it.
import path from 'node:path';
import { pathToFileURL } from 'node:url';
import { inBrowser } from './browser.mjs';

const files = process.argv.slice(2);
await inBrowser(async (context) => {
  for (let i = 0; i < files.length; i++) {
    if (files[i].endsWith('.png')) continue;
    const page = await context.newPage();
    const requests = [];
    const errors = [];
    const own = pathToFileURL(path.resolve(files[i])).href;
    page.on('request', r => { if (r.url() !== own && !r.url().startsWith('data:')) requests.push(r.url()); });
    page.on('pageerror', e => errors.push(String(e)));
    page.on('console', m => { if (['error', 'warning'].includes(m.type())) errors.push(m.text()); });
    await page.goto(own, { waitUntil: 'load' });
    const seen = await page.evaluate(() => {
      const words = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT);
      let smallest = Infinity;
      for (let n = words.nextNode(); n; n = words.nextNode()) {
        if (n.textContent.trim()) smallest = Math.min(smallest, parseFloat(getComputedStyle(n.parentElement).fontSize));
      }
      return {
        scripts: document.scripts.length,
        overflow: document.documentElement.scrollWidth - window.innerWidth,
        smallest,
        images: [...document.images].map(m => ({ width: m.naturalWidth, height: m.naturalHeight, shown: m.clientWidth })),
        text: document.body.innerText,
      };
    });
    if (files[i + 1]?.endsWith('.png')) await page.screenshot({ path: files[i + 1], fullPage: true });
    const pdf = (await page.pdf({ format: 'A4', preferCSSPageSize: true })).toString('latin1');
    const pages = (pdf.match(/\/Type\s*\/Page[^s]/g) ?? []).length;
    console.log(JSON.stringify({ file: files[i], requests, errors, pages, ...seen }));
    await page.close();
  }
});
