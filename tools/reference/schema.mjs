// Holds JSON against JSON Schemas (2020-12) with ajv, a general validator that knows nothing of the project.
// Arguments: a folder of *.schema.json, then pairs of a schema's name and a file. Prints one JSON line a pair:
// {"file", "schema", "errors": [..]}. A schema that is none itself ends with an error.
import fs from 'node:fs';
import path from 'node:path';
import Ajv from 'ajv/dist/2020.js';

const [folder, ...pairs] = process.argv.slice(2);
const ajv = new Ajv({ allErrors: true, strict: true, strictRequired: false, allowUnionTypes: true });
for (const file of fs.readdirSync(folder).filter(f => f.endsWith('.schema.json'))) {
  const schema = JSON.parse(fs.readFileSync(path.join(folder, file), 'utf8'));
  if (!ajv.validateSchema(schema)) throw new Error(file + ': ' + ajv.errorsText());
  ajv.addSchema(schema, file);
}
for (let i = 0; i < pairs.length; i += 2) {
  const check = ajv.getSchema(pairs[i] + '.schema.json');
  const fits = check(JSON.parse(fs.readFileSync(pairs[i + 1], 'utf8')));
  console.log(JSON.stringify({
    file: pairs[i + 1],
    schema: pairs[i],
    errors: fits ? [] : check.errors.slice(0, 8).map(e => e.instancePath + ' ' + e.message + ' ' + JSON.stringify(e.params)),
  }));
}
