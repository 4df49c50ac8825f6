import { writeFileSync } from 'node:fs';
import { format } from 'prettier';
import { z } from 'zod';
import { RegisterMap } from '../core/dist/format/index.js';
import { DeviceTemplate } from '../core/dist/model/index.js';

/** Writes the JSON Schemas of our own files into docs/formats, from the schemas that the code itself checks with. */
for (const [name, schema] of Object.entries({ 'register-map': RegisterMap, device: DeviceTemplate })) {
  const text = JSON.stringify(z.toJSONSchema(schema, { io: 'input' }));
  const file = new URL(`../docs/formats/${name}.schema.json`, import.meta.url);
  writeFileSync(file, await format(text, { parser: 'json', printWidth: 140 }));
}
