import { readLog, TerminalLog, writeLog } from './terminal-log';

const hexOf = (text: string) => Array.from(text, (one) => one.charCodeAt(0).toString(16).padStart(2, '0')).join('');

describe('What goes over a text line', () => {
  let log: TerminalLog;
  const heard = (text: string, atMs: number) => log.take({ kind: 'heard', atMs, hex: hexOf(text) });
  const sent = (text: string, atMs: number) => log.take({ kind: 'sent', atMs, hex: hexOf(text), by: 'A. Person' });
  const texts = () => log.texts.map(({ direction, bytes }) => `${direction} ${String.fromCharCode(...bytes)}`);
  beforeEach(() => (log = new TerminalLog()));

  it('is cut into texts by end marks, silence, and who sent it', () => {
    heard('004', 0);
    heard('2\r', 20);
    heard('\nMO00', 30);
    sent('P\r', 40);
    heard('01', 50);
    heard(' 4%', 90);
    heard('MO', 400);
    expect(texts()).toEqual(['heard 0042\r\n', 'heard MO00', 'sent P\r', 'heard 01 4%', 'heard MO']);
    expect([log.texts[2]!.by, log.texts[0]!.atMs]).toEqual(['A. Person', 0]);
    log.clear();
    expect(texts()).toEqual([]);
  });

  it('keeps the newest, and breaks what never ends', () => {
    for (let at = 0; at < 2100; at++) heard('x\r', at * 100);
    expect([log.texts.length, log.texts[0]!.id]).toEqual([2000, 101]);
    log.clear();
    heard('y'.repeat(600), 999_999);
    expect(log.texts.map(({ bytes }) => bytes.length)).toEqual([256, 256, 88]);
  });

  it('is saved as text and read again, and what is none of it is told by its line', () => {
    heard('0042\r', 1000);
    sent('P\r', 1250);
    const text = writeLog(log.texts);
    expect(text).toBe('0.000 < 30 30 34 32 0D\n0.250 > 50 0D\n');
    const back = readLog(text);
    expect(back.ok && back.value.map(({ atMs, direction }) => [atMs, direction])).toEqual([
      [0, 'heard'],
      [250, 'sent'],
    ]);
    const wrong = readLog('0.000 < 30\nhello');
    expect(wrong.ok ? '' : wrong.problem.message).toBe('Line 2 is none of a saved terminal: “hello”.');
    expect(readLog('\n').ok).toBeFalse();
  });
});
