import { writeFileSync } from 'node:fs';
import { format } from 'prettier';
import { z } from 'zod';
import { checksPage } from '../core/dist/checks/index.js';
import { RegisterMap } from '../core/dist/format/index.js';
import { ProjectFile } from '../core/dist/project-file/index.js';
import { DeviceTemplate } from '../core/dist/model/index.js';

// Writes what docs say of the code itself: the JSON Schemas of our own files, and the list of findings.
for (const [name, schema] of Object.entries({ 'register-map': RegisterMap, device: DeviceTemplate, project: ProjectFile })) {
  const text = JSON.stringify(z.toJSONSchema(schema, { io: 'input' }));
  const file = new URL(`../docs/formats/${name}.schema.json`, import.meta.url);
  writeFileSync(file, await format(text, { parser: 'json', printWidth: 140 }));
}
writeFileSync(new URL('../docs/findings.md', import.meta.url), await format(checksPage(), { parser: 'markdown' }));
