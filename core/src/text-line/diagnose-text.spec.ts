import { fernhollow } from '../demo/index.js';
import { asReceived, type SerialSettings } from '../line/index.js';
import type { ProjectDocument } from '../model/index.js';
import { diagnoseText, TextExchange } from './index.js';
import { textsOn } from '../converter/index.js';

const demo = fernhollow();
const line = demo.lines.find(({ name }) => name === 'Weighbridge cable')!;
const indicator = demo.devices.find(({ name }) => name === 'Weigh indicator')!;
const bytes = (text: string) => Uint8Array.from(text, (character) => character.charCodeAt(0));
const nowhere = { read: () => [0, 0], write: () => undefined };
const SET: SerialSettings = { baud: 9600, dataBits: 7, parity: 'even', stopBits: 1 };

/** Every port has listened for so long before anything comes. */
const UP_MS = 20_000;

/** What is said first when these texts come, sent with these settings to a port with those. */
function saidOf(texts: readonly string[], sends = SET, hears = SET, of: ProjectDocument = demo): string | undefined {
  const exchange = new TextExchange({ telegrams: textsOn(of, line.id), as: 'converter', memory: nowhere, send: () => true });
  exchange.step(-UP_MS);
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
    const exchange = new TextExchange({ telegrams: textsOn(demo, line.id), as: 'converter', memory: nowhere, send: () => true });
    exchange.step(0);
    expect(diagnoseText(demo, indicator.id, exchange.state(1000)))
      .withContext('it has only begun to listen')
      .toEqual([]);
  });

  it('is the settings where speed, parity or bits differ', () => {
    expect(saidOf(sound, { ...SET, baud: 4800 })).toBe('text-settings-differ');
    expect(saidOf(sound, { ...SET, parity: 'odd' })).toBe('text-settings-differ');
    expect(saidOf(sound, { ...SET, dataBits: 8, parity: 'none' })).toBe('text-settings-differ');
    expect(saidOf(sound, SET, { ...SET, dataBits: 8, parity: 'none' })).toBe('eighth-bit');
  });

  it('is another language of the device where all that comes is of one form, and of none that is known', () => {
    const others = [18405, 18410, 17155, 16990].map((weight) => `ST,GS, ${weight},kg\r\n`);
    expect(saidOf(others)).toBe('another-language');
    expect(saidOf([...sound, ...others, ...others]))
      .withContext('since a while')
      .toBe('another-language');
    expect(saidOf(others.slice(0, 2)))
      .withContext('two may be chance')
      .not.toBe('another-language');
    expect(saidOf(['rubbish', 'x', 'ab', 'more;of it']))
      .withContext('of no form')
      .not.toBe('another-language');
  });

  it('is two fields that were exchanged where exchanging them makes all sound', () => {
    const [weighing] = demo.telegrams;
    const at = (name: string) => weighing!.telegram.fields.find((field) => field.name === name)!.at;
    const swap: Record<string, string> = { gross: 'status', status: 'gross' };
    const fields = weighing!.telegram.fields.map((field) => ({ ...field, at: at(swap[field.name] ?? field.name) }));
    const wrong = { ...demo, telegrams: [{ ...weighing!, telegram: { ...weighing!.telegram, fields } }, ...demo.telegrams.slice(1)] };
    expect(saidOf(sound, SET, SET, wrong)).toBe('fields-exchanged');
  });

  it('is the end mark that never comes, a field or a checksum that never matches, or some noise', () => {
    expect(saidOf(sound.map((text) => text.replace('\r', '\n')))).toBe('end-never-comes');
    expect(saidOf(sound.map((text) => text.replace('76', '00')))).toBe('never-matches');
    expect(saidOf(sound.map((text) => text.replace(';', ' ')))).toBe('never-matches');
    expect(saidOf([...sound, '0042;+018405;S;\r'])).toBe('some-damaged');
  });
});
