// Runs the built specs below a folder on Node: `node scripts/jasmine.mjs engine`.
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { root } from './places.mjs';

const side = process.argv[2];
// Where real sockets are waited for, it counts only as far as the machine lets anything run.
if (['engine', 'standins', 'e2e'].includes(side)) await import('./steady-clock.mjs');
const { default: Jasmine } = await import('jasmine');
const runner = new Jasmine({ projectBaseDir: join(root, side) });
runner.loadConfig({ spec_dir: 'dist', spec_files: ['**/*.spec.js'], random: true });
runner.jasmine.DEFAULT_TIMEOUT_INTERVAL = side === 'e2e' ? 90_000 : 60_000;
runner.exitOnCompletion = false;

let passed = 0;
let failed = 0;
const failures = [];
const failedIn = (name, expectations) => failures.push(`${name}: ${expectations[0]?.message ?? 'no message'}`);
runner.addReporter({
  specDone({ status, fullName, failedExpectations }) {
    if (status === 'passed') passed += 1;
    if (status !== 'failed') return;
    failed += 1;
    failedIn(fullName, failedExpectations);
  },
  suiteDone({ fullName, failedExpectations = [] }) {
    if (failedExpectations.length === 0) return;
    failed += failedExpectations.length;
    failedIn(fullName, failedExpectations);
  },
});
const result = await runner.execute(process.argv[3] ? [process.argv[3]] : undefined);
if (result.overallStatus !== 'passed' && failed === 0) failed += 1;
if (process.env.ENVOY_COUNTS) writeFileSync(process.env.ENVOY_COUNTS, JSON.stringify({ passed, failed, failures }));
process.exit(failed ? 1 : 0);
