import { spawn } from 'node:child_process';
import { root } from './places.mjs';

/**
 * Runs a program to its end. Its output goes to standard error, or is gathered where `quiet`; resolves to
 * `{ code, output }` and never rejects.
 */
export function run(program, args, { quiet = false, cwd = root, env = process.env, ...options } = {}) {
  return new Promise((done) => {
    const child = spawn(program, args, { cwd, env, stdio: ['ignore', quiet ? 'pipe' : 2, quiet ? 'pipe' : 2], ...options });
    let output = '';
    child.stdout?.on('data', (chunk) => (output += chunk));
    child.stderr?.on('data', (chunk) => (output += chunk));
    child.on('error', (error) => done({ code: 127, output: error.message }));
    child.on('close', (code, signal) => done({ code: code ?? (signal ? 1 : 0), output }));
  });
}
