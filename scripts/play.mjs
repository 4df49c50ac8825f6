import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { createInterface } from 'node:readline/promises';
import { build, installPackages } from './build.mjs';
import { Halt, orHalt, root } from './places.mjs';

/** `./envoy play FILE`: the stand-ins of a project for whoever asks them, without page or database, until Ctrl+C. */
export async function playCommand(file, options) {
  await orHalt(async () => {
    if (!file) throw new Halt('Which project? ./envoy play project.json');
    await installPackages();
    await build('node');
    const { readProjectFile } = await dist('core/dist/project-file');
    const { lentLines, play } = await dist('standins/dist/play');
    const read = readProjectFile(textOf(file));
    if (!read.ok) throw new Halt(read.problem.message);
    const { document, attachments } = read.value;
    const wish = { port: portOf(options['stand-ins-port']), host: options.host ?? null, serial: options.serial.map(serialOf) };
    const lent = lentLines(document, wish.serial);
    if (!lent.ok) throw new Halt(lent.problem.message);
    if (lent.value.length > 0 && !options.yes) await askFirst(lent.value);
    const played = await play(document, wish, attachments, (path, { detail }) => {
      console.error(detail ?? `${path} is gone.`);
      void end(1);
    }).catch((error) => {
      throw new Halt(`The stand-ins could not take their places: ${error.message}`);
    });
    const end = async (code) => {
      await played.stop();
      process.exit(code);
    };
    for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, () => void end(0));
    const width = Math.max(...played.answering.map(({ device }) => device.length));
    for (const { device, at } of played.answering) console.log(`${device.padEnd(width)}  ${at}`);
    for (const { device, why } of played.silent) console.log(`${device} answers nothing: ${why}`);
    console.log(`${document.project.name} is played   (Ctrl+C ends it)`);
  });
}

/** What answers on a serial port answers whoever is there, so that is asked for. */
async function askFirst(lent) {
  for (const { line, path, answering } of lent) {
    console.log(
      `On ${path}, as ${line.name}, will answer: ${answering.map(({ device, at }) => `${device} (${at.split(', ').at(-1)})`).join(', ')}.`,
    );
  }
  if (!process.stdin.isTTY) throw new Halt('Say so with --yes, or start it where somebody can be asked.');
  const asking = createInterface({ input: process.stdin, output: process.stdout });
  const answer = await asking.question('Nothing else with these unit IDs may be on it. Begin? [y/N] ');
  asking.close();
  if (!/^y/i.test(answer)) throw new Halt('Nothing was begun.');
}

function textOf(file) {
  try {
    return readFileSync(file, 'utf8');
  } catch (error) {
    throw new Halt(`${file} cannot be read: ${error.code}.`);
  }
}

function portOf(text) {
  const port = Number(text);
  if (!Number.isInteger(port) || port < 1 || port > 65_535) throw new Halt(`“${text}” is no TCP port.`);
  return port;
}

/** `Kiln bus=/dev/ttyUSB0` */
function serialOf(text) {
  const at = text.lastIndexOf('=');
  if (at < 1 || at === text.length - 1) throw new Halt(`“${text}” says no line and port: --serial "Kiln bus=/dev/ttyUSB0".`);
  return { line: text.slice(0, at), path: text.slice(at + 1) };
}

function dist(folder) {
  return import(pathToFileURL(join(root, folder, 'index.js')).href);
}
