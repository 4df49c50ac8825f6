import type { SerialSettings } from '@plain-envoy/core/line';
import { TextLine } from '@plain-envoy/engine/links';
import { TextPort } from './index.js';

const settings: SerialSettings = { baud: 9600, dataBits: 8, parity: 'none', stopBits: 1 };
const bytes = (text: string) => Uint8Array.from(text, (one) => one.charCodeAt(0));

describe('the text port of a stand-in', () => {
  let now: number;
  let port: TextPort;
  const heard = (...pieces: string[]) => pieces.forEach((piece) => port.hear(bytes(piece), { framingErrors: [], parityErrors: [] }));
  const texts = () => {
    const all: string[] = [];
    for (let text; (text = port.received());) all.push(text);
    return all;
  };

  beforeEach(() => {
    now = 0;
    port = new TextPort(new TextLine(settings, false), settings, {}, () => now);
  });

  it('gives whole texts, ended by CR, LF or both, in whatever pieces they came', () => {
    heard('12', '\r', 'a\n', 'b\r', '\nc\r\n');
    expect(texts()).toEqual(['12\r', 'a\n', 'b\r\n', 'c\r\n']);
    heard('last\r');
    expect(texts()).withContext('an LF may follow').toEqual([]);
    now = 50;
    expect(texts()).toEqual(['last\r']);
  });

  it('ends a text by silence, and one that is too long', () => {
    heard('MO0001');
    now = 30;
    heard(' 4%');
    now = 79;
    expect(texts()).toEqual([]);
    now = 80;
    expect(texts()).toEqual(['MO0001 4%']);
    heard('x'.repeat(1500));
    expect(texts().map(({ length }) => length)).toEqual([1024]);
    now = 200;
    expect(texts().map(({ length }) => length)).toEqual([476]);
  });

  it('does not take what came damaged', () => {
    port.hear(bytes('1234\rx'), { framingErrors: [1], parityErrors: [2] });
    expect(texts()).toEqual(['14\r']);
  });

  it('takes no more to send than waits already', async () => {
    const line = new TextLine({ ...settings, baud: 1_000_000 }, false);
    const own = new TextPort(line, line.settings);
    own.start();
    expect([own.send('a'.repeat(4000)), own.send('b'.repeat(97)), own.send('c'.repeat(96))]).toEqual([true, false, true]);
    while (!own.send('d'.repeat(4096))) await new Promise((done) => setTimeout(done, 5));
    expect(own.send('e')).toBeFalse();
    own.stop();
  });
});
