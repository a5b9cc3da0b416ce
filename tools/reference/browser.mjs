// A page of headless Chromium: page.mjs looks at what we write in it, and libraries that are made for the web run in it.
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { chromium } from 'playwright-core';

/** Opens it, hands it to use, and leaves nothing behind. */
export async function inBrowser(use) {
  const profile = fs.mkdtempSync(path.join(os.tmpdir(), 'marrow-browser-'));
  const context = await chromium.launchPersistentContext(profile, {
    executablePath: '/usr/bin/chromium',
    headless: true,
    viewport: { width: 1280, height: 800 },
    args: ['--no-sandbox', '--disable-gpu', '--disable-quic', '--no-first-run', '--disable-background-networking',
      '--disable-component-update', '--disable-sync'],
  });
  try {
    await use(context);
  } finally {
    await context.close();
    fs.rmSync(profile, { recursive: true, force: true });
  }
}

// Threads share memory, which a page may do that nobody else can reach.
const headers = {
  'Cross-Origin-Opener-Policy': 'same-origin',
  'Cross-Origin-Embedder-Policy': 'require-corp',
  'Cross-Origin-Resource-Policy': 'same-origin',
};
const types = { '.js': 'text/javascript', '.wasm': 'application/wasm' };

/** A page with the files of a folder at its root, the numbered files as /scene0 and so on, and body for its own text. */
export async function pageOf(context, folder, files, body) {
  await context.route('http://localhost/**', (route) => {
    const name = path.basename(new URL(route.request().url()).pathname);
    if (/^scene\d+$/.test(name)) {
      return route.fulfill({ headers, body: fs.readFileSync(files[Number(name.slice(5))]) });
    }
    if (!name) {
      return route.fulfill({ headers, contentType: 'text/html', body });
    }
    const file = path.join(folder, name);
    return fs.existsSync(file)
      ? route.fulfill({ headers, contentType: types[path.extname(file)] ?? 'application/octet-stream', body: fs.readFileSync(file) })
      : route.fulfill({ headers, status: 404 });
  });
  const page = await context.newPage();
  await page.goto('http://localhost/');
  return page;
}
