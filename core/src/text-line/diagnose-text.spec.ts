import { fernhollow } from '../demo/index.js';
import { asReceived, type SerialSettings } from '../line/index.js';
import type { ProjectDocument } from '../model/index.js';
import { diagnoseText, TextExchange } from './index.js';
import { textsOn } from '../converter/index.js';

const demo = fernhollow();
const line = demo.lines.find(({ name }) => name === 'Weighbridge cable')!;
const indicator = demo.devices.find(({ name }) => name === 'Weigh indicator')!;
const bytes = (text: string) => Uint8Array.from(text, (character) => character.charCodeAt(0));
const SET: SerialSettings = { baud: 9600, dataBits: 7, parity: 'even', stopBits: 1 };

/** What is said first when these texts come, sent with these settings to a port with those. */
function saidOf(texts: readonly string[], sends = SET, hears = SET, of: ProjectDocument = demo): string | undefined {
  const memory = { read: () => [0, 0], write: () => undefined };
  const exchange = new TextExchange({ telegrams: textsOn(of, line.id), as: 'converter', memory, send: () => undefined });
  texts.forEach((text, index) => {
    const { bytes: heard, ...damage } = asReceived(bytes(text), sends, hears);
    exchange.hear(heard, index * 500, damage);
    exchange.step(index * 500 + 300);
  });
  const set = (deviceId: string, settings: SerialSettings) => (port: ProjectDocument['ports'][number]) =>
    port.deviceId === deviceId && port.kind === 'serial' && port.lineId === line.id ? { ...port, ...settings } : port;
  const ports = of.ports.map(set(indicator.id, sends));
  return diagnoseText({ ...of, ports }, indicator.id, exchange.state(texts.length * 500))[0]?.cause;
}

describe('What is likely wrong with what comes of a device on a text line', () => {
  const sound = Array.from({ length: 6 }, () => '0042;+018405;S;76\r');

  it('is nothing where all is well, and said where nothing comes', () => {
    expect([saidOf(sound), saidOf([])]).toEqual([undefined, 'nothing-came']);
  });

  it('is the settings where speed, parity or bits differ', () => {
    expect(saidOf(sound, { ...SET, baud: 4800 })).toBe('text-settings-differ');
    expect(saidOf(sound, { ...SET, parity: 'odd' })).toBe('text-settings-differ');
    expect(saidOf(sound, { ...SET, dataBits: 8, parity: 'none' })).toBe('text-settings-differ');
    expect(saidOf(sound, SET, { ...SET, dataBits: 8, parity: 'none' })).toBe('eighth-bit');
  });

  it('is the end mark that never comes, a field or a checksum that never matches, or some noise', () => {
    expect(saidOf(sound.map((text) => text.replace('\r', '\n')))).toBe('end-never-comes');
    expect(saidOf(sound.map((text) => text.replace('76', '00')))).toBe('never-matches');
    expect(saidOf(sound.map((text) => text.replace(';', ' ')))).toBe('never-matches');
    expect(saidOf([...sound, '0042;+018405;S;\r'])).toBe('some-damaged');
  });
});
