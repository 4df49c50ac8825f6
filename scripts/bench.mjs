// Runs every benchmark, one after the other, and prints all their ratios as one table.
import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { createInterface } from 'node:readline';

const parts = ['core', 'engine', 'e2e'];
const found = [];
let failed = 0;
for (const part of parts) {
  const child = spawn('npm', ['run', 'bench', '--silent', '-w', part], { stdio: ['ignore', 'pipe', 'inherit'] });
  const ended = once(child, 'close');
  for await (const line of createInterface(child.stdout)) {
    console.log(line);
    const [, value, what] = /^ +ratio (\S+) +(.+)$/.exec(line) ?? [];
    if (what) found.push({ part, value, what });
  }
  const [code] = await ended;
  if (code !== 0) failed = 1;
  if (code !== 0) console.error(`The benchmark of ${part} ended with ${code}.`);
}
console.log('\nAll ratios');
for (const { part, value, what } of found) console.log(`  ${part.padEnd(7)} ${value.padStart(8)}  ${what}`);
process.exitCode = failed;
