import { readFileSync } from 'node:fs';
import { pathToFileURL } from 'node:url';
import { join } from 'node:path';
import { build } from './build.mjs';
import { orHalt, root } from './places.mjs';

/** `./envoy reckon NAME`: exit 0 and one JSON value, or exit 2 and `{ error: { message, path } }`. */
export async function reckonCommand(name, list) {
  await orHalt(() => build('core'));
  const { describeReckoners, reckon, reckoners } = await core('reckoner');
  if (list) return print(describeReckoners());
  if (!name) return refuse('Which reckoner? ./envoy reckon --list names them all.');
  // A wrong name is said at once, without waiting for input.
  if (!reckoners.some((known) => known.name === name)) return refuse(reckon(name, undefined).problem.message);
  const input = parse(readFileSync(0, 'utf8'), 'Standard input');
  if (!input.ok) return;
  const result = reckon(name, input.value);
  if (result.ok) print(result.value);
  else refuse(result.problem.message, result.problem.path);
}

/** `./envoy compile FILE`: the plan and the findings of an exported project. */
export async function compileCommand(file) {
  await orHalt(() => build('core'));
  if (!file) return refuse('Which file? ./envoy compile project.json');
  let text;
  try {
    text = readFileSync(file, 'utf8');
  } catch (error) {
    return refuse(`${file} cannot be read: ${error.code}.`);
  }
  const { readProjectFile } = await core('project-file');
  const read = readProjectFile(text);
  if (!read.ok) return refuse(read.problem.message, read.problem.path);
  const { compile } = await core('compile');
  print(compile(read.value.document));
}

function core(folder) {
  return import(pathToFileURL(join(root, 'core/dist', folder, 'index.js')).href);
}

function parse(text, where) {
  try {
    return { ok: true, value: JSON.parse(text) };
  } catch (error) {
    refuse(`${where} is no JSON: ${error.message}.`);
    return { ok: false };
  }
}

function print(value) {
  process.stdout.write(`${JSON.stringify(value)}\n`);
}

function refuse(message, path = []) {
  print({ error: { message, path } });
  process.exitCode = 2;
}
