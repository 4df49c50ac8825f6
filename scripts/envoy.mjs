// Reads the command line and hands over; each command is a file of its own.
import { parseArgs } from 'node:util';

const help = `./envoy COMMAND

  start             install and build what is missing, then run everything; prints the address to open
      --port N              where the page is served (4310)
      --host ADDRESS        which address to listen on (127.0.0.1); others than this machine have to sign in
      --passphrase-file F   the passphrase to sign in with, as the first line of a file; kept for later starts
      --tls-cert F, --tls-key F   serve over TLS
      --name NAME           a name by which the page is opened, beside its address; may be repeated
      --stand-ins-port N    where the stand-ins listen, on 127.40.8.x (1502)
      --data DIR            where the database lives (.data)
  test              lint, types, unit tests, database tests and browser tests
      --only NAME           lint, folders, format, types, core, web, engine, standins, server or e2e; may be repeated
  backup FILE       everything that is saved, as one file; also while it runs
  restore FILE      puts it back in place of what is there; also while it runs
      --data DIR            where the database lives (.data)
  play FILE         the stand-ins of an exported project for whoever asks them, without page or database
      --stand-ins-port N    where they listen (1502)
      --host ADDRESS        all at this address, each at a port of its own; else each at its own on loopback
      --serial LINE=PATH    lets who asks on a serial port ask the stand-ins of that line; may be repeated
      --yes                 begin on a serial port without asking
  reckon NAME       one calculation: JSON in on standard input, JSON out
      --list                every calculation with its input and output
  compile FILE      the plan and the findings of an exported project
  handover FILE     everything that is handed over of an exported project, as files or one .zip; without a database
      --to DIR              the folder where they go
`;

const options = {
  port: { type: 'string', default: '4310' },
  host: { type: 'string' },
  serial: { type: 'string', multiple: true, default: [] },
  yes: { type: 'boolean' },
  'stand-ins-port': { type: 'string', default: '1502' },
  name: { type: 'string', multiple: true, default: [] },
  'passphrase-file': { type: 'string' },
  'tls-cert': { type: 'string' },
  'tls-key': { type: 'string' },
  data: { type: 'string', default: '.data' },
  only: { type: 'string', multiple: true },
  list: { type: 'boolean' },
  to: { type: 'string' },
  help: { type: 'boolean', short: 'h' },
};

const [major = 0, minor = 0] = process.versions.node.split('.').map(Number);
if (major < 20 || (major === 20 && minor < 19)) fail(`Plain Envoy needs Node.js 20.19 or newer; this is ${process.versions.node}.`, 1);

let parsed;
try {
  parsed = parseArgs({ options, allowPositionals: true });
} catch (error) {
  fail(`${error.message}\n\n${help}`, 2);
}
const { values, positionals } = parsed;
const [command, ...rest] = positionals;

if (values.help || !command) {
  process.stdout.write(help);
} else if (command === 'start') {
  await (await import('./start.mjs')).start({ ...values, host: values.host ?? '127.0.0.1' });
} else if (command === 'test') {
  await (await import('./test.mjs')).test(values);
} else if (command === 'backup' || command === 'restore') {
  await (await import('./backup.mjs'))[command](values, rest[0]);
} else if (command === 'play') {
  await (await import('./play.mjs')).playCommand(rest[0], values);
} else if (command === 'reckon') {
  await (await import('./reckon.mjs')).reckonCommand(rest[0], values.list ?? false);
} else if (command === 'handover') {
  await (await import('./handover.mjs')).handoverCommand(rest[0], values);
} else if (command === 'compile') {
  await (await import('./reckon.mjs')).compileCommand(rest[0]);
} else {
  fail(`There is no command “${command}”.\n\n${help}`, 2);
}

function fail(message, code) {
  console.error(message);
  process.exit(code);
}
