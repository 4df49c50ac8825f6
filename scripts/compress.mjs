import { readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { brotliCompressSync, gzipSync } from 'node:zlib';

/** Puts a compressed copy beside each file of the built page, so that the server never has to compress while it runs. */
export function compressPage(folder) {
  for (const name of readdirSync(folder, { recursive: true })) {
    if (!/\.(js|css|svg)$/.test(name)) continue;
    const path = join(folder, name);
    const bytes = readFileSync(path);
    writeFileSync(`${path}.br`, brotliCompressSync(bytes));
    writeFileSync(`${path}.gz`, gzipSync(bytes));
  }
}
