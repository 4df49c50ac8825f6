import { fernhollow } from '../demo/index.js';
import { diagnoseTexts } from './index.js';

const demo = fernhollow();
const line = demo.lines.find(({ name }) => name === 'Weighbridge cable')!;
const converter = demo.devices.find(({ name }) => name === 'Text port')!;
const indicator = demo.devices.find(({ name }) => name === 'Weigh indicator')!;
const port = demo.ports.find(({ deviceId, lineId }) => deviceId === converter.id && lineId === line.id)!;
const silent = {
  waiting: 0,
  isFull: false,
  isHeld: false,
  bytes: 0,
  upMs: 60_000,
  silentMs: null,
  framingErrors: 0,
  parityErrors: 0,
  unknown: 0,
  tooLong: 0,
  telegrams: [],
  texts: [],
};

describe('Devices that send texts', () => {
  it('are diagnosed by what the port of their converter has seen, with the way to their port, or to their telegram', () => {
    const found = diagnoseTexts(demo, (id) => (id === port.id ? silent : undefined));
    expect(found.map(({ name, causes }) => [name, causes[0]?.cause])).toEqual([['Weigh indicator', 'nothing-came']]);
    expect(found[0]?.causes[0]?.at).toEqual({ entity: 'port', id: demo.ports.find(({ deviceId }) => deviceId === indicator.id)!.id });
    expect(found[0]?.seen).toBe('0 characters came over its text line.');
    const telegram = demo.telegrams.find(({ deviceId }) => deviceId === indicator.id)!;
    const none = { ...{ atMs: 0, telegramId: telegram.id, text: 'x<CR>', fields: [] }, problems: ['number is not there.'] };
    const others = diagnoseTexts(demo, () => ({ ...silent, bytes: 2, texts: Array.from({ length: 5 }, () => none) }));
    const of = others.find(({ name }) => name === 'Weigh indicator')!.causes[0]!;
    expect([of.cause, of.at]).toEqual(['another-language', { entity: 'telegram', id: telegram.id }]);
  });

  it('are diagnosed the same where no converter is before them, by what Plain Envoy has heard of each', () => {
    const direct = { ...demo, ports: demo.ports.filter(({ deviceId }) => deviceId !== converter.id) };
    const asked: string[] = [];
    const found = diagnoseTexts(direct, (id) => {
      asked.push(id);
      return id === indicator.id ? silent : undefined;
    });
    expect(asked).toContain(indicator.id);
    expect(found.map(({ name, causes }) => [name, causes[0]?.cause])).toEqual([['Weigh indicator', 'nothing-came']]);
  });

  it('are not where nothing is known of the port', () => {
    expect(diagnoseTexts(demo, () => undefined)).toEqual([]);
  });
});
