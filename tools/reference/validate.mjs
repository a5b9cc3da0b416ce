// Validates glTF files with the Khronos validator: each whose name comes in a line of standard input. Prints one JSON line a file:
// {"file", "errors", "warnings", "messages": ["CODE pointer", …]}. Exit 0 whatever it finds.
import fs from 'node:fs';
import path from 'node:path';
import { createInterface } from 'node:readline';
import validator from 'gltf-validator';

for await (const file of createInterface({ input: process.stdin })) {
  const report = await validator.validateBytes(new Uint8Array(fs.readFileSync(file)), {
    uri: path.basename(file),
    maxIssues: 1000000,
    externalResourceFunction: async uri =>
      new Uint8Array(fs.readFileSync(path.join(path.dirname(file), decodeURIComponent(uri)))),
  });
  console.log(JSON.stringify({
    file,
    errors: report.issues.numErrors,
    warnings: report.issues.numWarnings,
    messages: [...new Set(report.issues.messages.filter(m => m.severity < 2).map(m => m.code + ' ' + m.pointer))].slice(0, 50),
  }));
}
