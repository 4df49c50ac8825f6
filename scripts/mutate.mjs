// Plants small mistakes in the built code, one at a time, and counts how many the specs notice:
// `npm run mutate` for all folders, `npm run mutate -- core/value engine/links` for some. It takes long and is no part of ./envoy test.
import { Stryker } from '@stryker-mutator/core';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { root } from './places.mjs';

const folders = ['engine/client', 'engine/links', 'engine/runner', 'core/schedule', 'core/plan', 'core/value', 'core/frame', 'core/codec'];
const wanted = process.argv.slice(2);
const unknown = wanted.find((folder) => !folders.includes(folder));
if (unknown) {
  console.error(`“${unknown}” is none of ${folders.join(', ')}.`);
  process.exit(2);
}

const noticed = new Set(['Killed', 'Timeout']);
const counted = new Set([...noticed, 'Survived', 'NoCoverage']);
const scores = [];
for (const folder of wanted.length > 0 ? wanted : folders) scores.push(await mutate(folder));
console.log(`\n${'folder'.padEnd(16)} mistakes  noticed   score`);
for (const { folder, all, seen } of scores)
  console.log(
    `${folder.padEnd(16)} ${String(all).padStart(8)} ${String(seen).padStart(8)} ${((100 * seen) / all).toFixed(1).padStart(6)} %`,
  );

/** The specs of a folder against mistakes in it; what survives is printed with its place. */
async function mutate(folder) {
  const [side, room] = folder.split('/');
  const scratch = mkdtempSync(join(tmpdir(), 'envoy-mutate-'));
  const jasmineConfig = join(scratch, 'jasmine.json');
  const patience = join(scratch, 'patience.mjs');
  writeFileSync(patience, 'jasmine.DEFAULT_TIMEOUT_INTERVAL = 60_000;');
  writeFileSync(
    jasmineConfig,
    JSON.stringify({ spec_dir: `${side}/dist`, spec_files: [`${room}/**/*.spec.js`], helpers: [patience], random: false }),
  );
  try {
    const results = await new Stryker({
      mutate: [
        `${side}/dist/${room}/**/*.js`,
        `!${side}/dist/**/*.spec.js`,
        `!${side}/dist/**/*.spec-helper.js`,
        `!${side}/dist/**/index.js`,
      ],
      ignorePatterns: ['/web', '/docs', '/e2e', '/server', '/standins', '/dist', '/*/src', '/scripts'],
      testRunner: 'jasmine',
      jasmineConfigFile: jasmineConfig,
      plugins: ['@stryker-mutator/jasmine-runner'],
      coverageAnalysis: 'perTest',
      ignoreStatic: true,
      reporters: ['progress-append-only'],
      tempDirName: join(scratch, 'sandboxes'),
      timeoutMS: 3000,
      logLevel: 'error',
    }).runMutationTest();
    for (const { status, fileName, location, replacement } of results) {
      if (!counted.has(status) || noticed.has(status)) continue;
      console.log(
        `${fileName.replace(`${root}/`, '')}:${location.start.line} ${status === 'Survived' ? 'survived' : 'is run by no spec'}: ${replacement}`,
      );
    }
    const all = results.filter(({ status }) => counted.has(status)).length;
    return { folder, all, seen: results.filter(({ status }) => noticed.has(status)).length };
  } finally {
    rmSync(scratch, { recursive: true, force: true });
  }
}
