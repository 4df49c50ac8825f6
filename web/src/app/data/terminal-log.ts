import type { TerminalEvent } from '@plain-envoy/core/feed';
import { toHex } from '@plain-envoy/core/frame';
import { bad, good, type Outcome } from '@plain-envoy/core/outcome';

/** One text as it went over a line: up to its end mark, or to a silence. */
export interface LoggedText {
  id: number;
  atMs: number;
  direction: 'heard' | 'sent';
  bytes: readonly number[];
  by: string | null;
}

/** So many texts are kept. */
export const MOST_TEXTS = 2000;
const LONGEST = 256;
/** After so long without a character what comes next is another text. */
const SILENCE_MS = 60;
const [ETX, LF, CR] = [3, 10, 13];

/** What goes over a line, cut into texts, the newest last. */
export class TerminalLog {
  private next = 1;
  private last = { atMs: 0 };
  texts: readonly LoggedText[] = [];

  take(event: Extract<TerminalEvent, { kind: 'heard' | 'sent' }>): void {
    const bytes = (event.hex.match(/../g) ?? []).map((pair) => parseInt(pair, 16));
    const by = event.kind === 'sent' ? event.by : null;
    const texts = [...this.texts];
    let open: LoggedText | undefined = event.atMs - this.last.atMs < SILENCE_MS ? texts.at(-1) : undefined;
    if (open?.direction !== event.kind) open = undefined;
    for (const byte of bytes) {
      const isOver = !open || open.bytes.length >= LONGEST || (endsWith(open, [CR, LF, ETX]) && !(byte === LF && endsWith(open, [CR])));
      if (isOver) texts.push({ id: this.next++, atMs: event.atMs, direction: event.kind, bytes: [byte], by });
      else texts[texts.length - 1] = { ...open!, bytes: [...open!.bytes, byte] };
      open = texts.at(-1);
    }
    this.last = event;
    this.texts = texts.slice(-MOST_TEXTS);
  }

  clear(): void {
    this.texts = [];
  }
}

function endsWith({ bytes }: LoggedText, marks: readonly number[]): boolean {
  return marks.includes(bytes.at(-1)!);
}

/** Texts as lines of a file: seconds since the first, `<` for what was heard or `>` for what was sent, and the bytes in hex. */
export function writeLog(texts: readonly LoggedText[]): string {
  const from = texts[0]?.atMs ?? 0;
  const lines = texts.map(({ atMs, direction, bytes }) => {
    return `${((atMs - from) / 1000).toFixed(3)} ${direction === 'heard' ? '<' : '>'} ${toHex(bytes)}`;
  });
  return `${lines.join('\n')}\n`;
}

/** The same out of a file; a problem names the line that is none. */
export function readLog(text: string): Outcome<Pick<LoggedText, 'atMs' | 'direction' | 'bytes'>[]> {
  const found: Pick<LoggedText, 'atMs' | 'direction' | 'bytes'>[] = [];
  for (const [index, line] of text.split(/\r?\n/).entries()) {
    if (line.trim() === '') continue;
    const read = /^(\d+(?:\.\d+)?) ([<>]) ((?:[0-9A-Fa-f]{2} ?)+)$/.exec(line.trim());
    if (!read) return bad(`Line ${index + 1} is none of a saved terminal: “${line.slice(0, 40)}”.`);
    const bytes = read[3]!
      .trim()
      .split(/ /)
      .map((pair) => parseInt(pair, 16));
    found.push({ atMs: Number(read[1]) * 1000, direction: read[2] === '<' ? 'heard' : 'sent', bytes });
  }
  return found.length ? good(found) : bad('There is nothing in this file.');
}
