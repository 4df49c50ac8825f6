import { bad, good, type Outcome } from '../outcome/index.js';
import { fromHex, toHex } from '../frame/index.js';
import { hexIdentifier, identifierProblem, MOST_BYTES } from '../can-id/index.js';
import type { CanFrame } from './wire.js';

/** A frame that was seen, with its time in seconds as the log counts them, and the interface on which it was. */
export interface LoggedFrame extends CanFrame {
  atS: number;
  on: string;
}

/** What a log holds, and which of its lines are none, with why; those are left out, and nothing else. */
export interface ReadLog {
  frames: LoggedFrame[];
  problems: { line: number; message: string }[];
}

const LINE = /^\((\d+(?:\.\d+)?)\)\s+(\S+)\s+([0-9A-Fa-f]+)#(#?)(R?)([0-9A-Fa-f.]*)(?:\s+[RT])?$/;
/** In the identifier of a line: it tells of an error, and is no frame. */
const ERROR_FLAG = 0x2000_0000;
const CSV_HEAD = ['time', 'interface', 'identifier', 'bits', 'remote', 'length', 'data'];

/** A log in either form, told apart by whether it begins with the heads of columns. */
export function readCanFrames(text: string): ReadLog {
  return /^\s*"?[a-z]+"?\s*[,;]/i.test(text) ? readCanCsv(text) : readCanLog(text);
}

/** The usual open text log, a frame a line: `(1699000000.123456) can0 18FF1003#7D0180`. Three figures are a base frame, eight an extended one. */
export function readCanLog(text: string): ReadLog {
  return readLines(text, (line) => {
    const [, at, on, digits, isLong, remote, data] = LINE.exec(line) ?? [];
    if (digits === undefined) return bad('It is not of the form (time) interface identifier#data.');
    if (isLong) return bad('It is a frame of the longer kind (CAN FD), which is not read.');
    if (digits.length !== 3 && digits.length !== 8) return bad(`Its identifier has ${digits.length} figures, and not 3 or 8.`);
    const identifier = parseInt(digits, 16);
    if (digits.length === 8 && identifier >= ERROR_FLAG) return bad('It tells of an error on the bus, and is no frame.');
    const where = { atS: Number(at), on: on!, identifierBits: digits.length === 3 ? 11 : 29, identifier } as const;
    return remote ? remoteFrame(where, data!) : frameOf(where, data!.replaceAll('.', ''));
  });
}

export function writeCanLog(frames: readonly LoggedFrame[]): string {
  return frames
    .map((frame) => {
      const data = frame.isRemote ? `R${frame.data.length || ''}` : toHex(frame.data).replaceAll(' ', '');
      return `(${frame.atS.toFixed(6)}) ${frame.on} ${hexIdentifier(frame)}#${data}\n`;
    })
    .join('');
}

/** The same as CSV, with these columns: time in s, interface, identifier in hex, its bits, whether it is remote, length, data in hex. */
export function writeCanCsv(frames: readonly LoggedFrame[]): string {
  const rows = frames.map((frame) => [
    ...[frame.atS.toFixed(6), frame.on, hexIdentifier(frame), frame.identifierBits, frame.isRemote ? 1 : 0, frame.data.length],
    frame.isRemote ? '' : toHex(frame.data),
  ]);
  return [CSV_HEAD, ...rows].map((row) => `${row.join(',')}\n`).join('');
}

export function readCanCsv(text: string): ReadLog {
  const head = text
    .split(/\r?\n/, 1)[0]!
    .toLowerCase()
    .split(/[,;]/)
    .map((name) => name.trim());
  const missing = CSV_HEAD.filter((name) => name !== 'interface' && name !== 'remote' && name !== 'length' && !head.includes(name));
  if (missing.length > 0) return { frames: [], problems: [{ line: 1, message: `There is no column ${missing.join(', ')}.` }] };
  return readLines(
    text,
    (line) => {
      const cells = line.split(/[,;]/).map((cell) => cell.trim().replace(/^"(.*)"$/, '$1'));
      const of = (name: string) => cells[head.indexOf(name)] ?? '';
      const bits = Number(of('bits'));
      if (bits !== 11 && bits !== 29) return bad(`“${of('bits')}” is no number of bits that an identifier has.`);
      if (!/^(0x)?[0-9a-f]{1,8}$/i.test(of('identifier'))) return bad(`“${of('identifier')}” is no identifier in hex.`);
      const atS = Number(of('time'));
      if (of('time') === '' || !Number.isFinite(atS)) return bad(`“${of('time')}” is no time in seconds.`);
      const identifier = parseInt(of('identifier').replace(/^0x/i, ''), 16);
      const where = { atS, on: of('interface') || 'can0', identifierBits: bits, identifier } as const;
      return /^(1|true|yes)$/i.test(of('remote')) ? remoteFrame(where, of('length')) : frameOf(where, of('data'));
    },
    1,
  );
}

type Where = Omit<LoggedFrame, 'data' | 'isRemote'>;

function frameOf(where: Where, hex: string): Outcome<LoggedFrame> {
  const wrong = identifierProblem(where);
  if (wrong) return bad(wrong);
  const data = hex.trim() === '' ? good(new Uint8Array()) : fromHex(hex);
  if (!data.ok) return data;
  if (data.value.length > MOST_BYTES) return bad(`It has ${data.value.length} bytes, and a frame has ${MOST_BYTES} at most.`);
  return good({ ...where, data: data.value });
}

function remoteFrame(where: Where, length: string): Outcome<LoggedFrame> {
  const wrong = identifierProblem(where);
  if (wrong) return bad(wrong);
  if (!/^[0-8]?$/.test(length)) return bad(`“${length}” is no length of a frame.`);
  return good({ ...where, data: new Uint8Array(Number(length)), isRemote: true });
}

/** Lines are counted from 1; empty ones and those that begin with # or // are passed over. */
function readLines(text: string, read: (line: string) => Outcome<LoggedFrame>, head = 0): ReadLog {
  const log: ReadLog = { frames: [], problems: [] };
  text.split(/\r?\n/).forEach((raw, index) => {
    const line = raw.trim();
    if (index < head || line === '' || line.startsWith('#') || line.startsWith('//')) return;
    const frame = read(line);
    if (frame.ok) log.frames.push(frame.value);
    else log.problems.push({ line: index + 1, message: frame.problem.message });
  });
  return log;
}
