import type { Handshake, SerialSettings } from '@plain-envoy/core/line';
import { type PassedText, TextLine, type TextStation, until } from './index.js';

const settings: SerialSettings = { baud: 9600, dataBits: 8, parity: 'none', stopBits: 1 };
const bytes = (text: string) => Uint8Array.from(text, (one) => one.charCodeAt(0));

/** Somebody who writes down what they hear. */
function listener(line: TextLine, own: SerialSettings = settings, handshake: Handshake = 'none') {
  const heard = { text: '', pieces: 0, framingErrors: 0 };
  const station: TextStation = {
    settings: own,
    handshake,
    hear(part, { framingErrors }) {
      heard.text += String.fromCharCode(...part);
      heard.pieces += 1;
      heard.framingErrors += framingErrors.length;
    },
  };
  line.attach(station);
  return { station, heard };
}

describe('a text line', () => {
  it('carries what is sent to all others, one text after the other, at its pace and piece by piece', async () => {
    const line = new TextLine(settings, false);
    const [scale, port, other] = [listener(line), listener(line), listener(line)];
    const from = performance.now();
    await Promise.all([
      line.send(scale.station, bytes('0042  18405S6D\r')),
      line.send(scale.station, bytes('next\r')),
      line.send(port.station, bytes('P\r')),
    ]);
    expect(port.heard.text).toBe('0042  18405S6D\rnext\r');
    expect(other.heard.text.replace('P\r', '')).toContain('next\r');
    expect(scale.heard.text).withContext('both ways at once').toBe('P\r');
    expect(port.heard.pieces).toBeGreaterThan(1);
    // 20 characters of 10 bits at 9600 baud.
    expect(performance.now() - from).toBeGreaterThan(20);
  });

  it('is heard otherwise by who is set otherwise, and by nobody who has left', async () => {
    const line = new TextLine(settings, false);
    const scale = listener(line);
    const seven = listener(line, { ...settings, dataBits: 7, parity: 'even' });
    const gone = listener(line);
    line.detach(gone.station);
    await line.send(seven.station, bytes('AC'));
    expect([scale.heard.text, gone.heard.text]).toEqual(['A\u00c3', '']);
    line.close();
    await line.send(seven.station, bytes('x'));
    expect(scale.heard.text).toBe('A\u00c3');
  });

  it('tells what has passed, what of it arrived, and that nobody heard it', async () => {
    const line = new TextLine({ ...settings, baud: 115_200 }, false);
    const passed: PassedText[] = [];
    line.onPassed = (one) => passed.push(one);
    const scale = listener(line, line.settings);
    const before = Date.now();
    await line.send(scale.station, bytes('alone'));
    const port = listener(line, line.settings);
    await line.send(scale.station, bytes('whole'));
    line.detach(port.station);
    listener(line, { ...line.settings, dataBits: 7, parity: 'even' });
    await line.send(scale.station, bytes('other'));
    expect(passed.map(({ from }) => from === scale.station)).toEqual([true, true, true]);
    expect(passed.map(({ sent, got, isDamaged }) => [sent.length, got?.length ?? null, isDamaged])).toEqual([
      [5, null, false],
      [5, 5, false],
      [5, jasmine.any(Number), true] as never,
    ]);
    expect(passed[0]!.atMs).toBeGreaterThan(before - 50);
    expect(passed[1]!.atMs).toBeGreaterThan(passed[0]!.atMs);
  });

  for (const handshake of ['rts-cts', 'xon-xoff'] as const)
    it(`holds back by ${handshake} what the other side cannot take, and loses nothing`, async () => {
      const line = new TextLine(settings, false);
      const [scale, port] = [listener(line, settings, handshake), listener(line, settings, handshake)];
      await line.send(scale.station, bytes('a'));
      line.takes(port.station, false);
      expect(line.isHeld(scale.station)).toBeTrue();
      const sent = line.send(scale.station, bytes('bc'));
      await until(performance.now() + 50);
      expect(port.heard.text).withContext('it waits').toBe('a');
      line.takes(port.station, true);
      await sent;
      expect(port.heard.text).toBe('abc');
      expect(line.isHeld(scale.station)).toBeFalse();
    });

  it('loses what comes to a full buffer where the two have no handshake, and shows the signs of one that only one of them has', async () => {
    const line = new TextLine(settings, false);
    const [scale, port] = [listener(line), listener(line, settings, 'xon-xoff')];
    line.takes(port.station, false);
    await line.send(scale.station, bytes('lost'));
    line.takes(port.station, true);
    await line.send(scale.station, bytes('heard'));
    expect([port.heard.text, scale.heard.text]).toEqual(['heard', '\u0013\u0011']);
  });

  it('takes the signs out of what one with XON/XOFF hears, and obeys the last', async () => {
    const line = new TextLine(settings, false);
    const [scale, port] = [listener(line, settings, 'xon-xoff'), listener(line)];
    await line.send(port.station, bytes('1\u00132\u0011\u00133'));
    expect(scale.heard.text).toBe('123');
    expect(line.isHeld(scale.station)).toBeTrue();
    line.detach(scale.station);
    line.attach(scale.station);
    expect(line.isHeld(scale.station)).withContext('begun anew').toBeFalse();
  });

  it('of two wires for both directions is damaged where two send at once', async () => {
    const line = new TextLine(settings, true);
    const [one, other, third] = [listener(line), listener(line), listener(line)];
    await Promise.all([line.send(one.station, bytes('aaaa')), line.send(other.station, bytes('bbbb'))]);
    expect(third.heard.text).not.toContain('aaaa');
    await line.send(one.station, bytes('aaaa'));
    expect(third.heard.text.endsWith('aaaa')).toBeTrue();
  });
});
