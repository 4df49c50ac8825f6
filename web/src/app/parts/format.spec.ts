import { rawText, readText, valueText, wordsFromInput } from '@plain-envoy/core/model';
import { fernhollow } from '@plain-envoy/core/demo';
import { addressOf, ageText, lineText, portText } from './format';

const demo = fernhollow();
const named = (name: string) => demo.points.find((point) => point.name === name)!;
const device = (name: string) => demo.devices.find((row) => row.name === name);

describe('values on the screen', () => {
  it('show registers as hex and values in their unit', () => {
    expect(rawText([0xcccd, 0x4276], named('Air-on temperature'))).toBe('CCCD 4276');
    expect(valueText([0xcccd, 0x4276], named('Air-on temperature'))).toBe('61.7 °C');
    expect(valueText([610], named('Kiln air-on temperature'))).toBe('61.0 °C');
    expect(valueText([0b10011], named('Status word'))).toBe('ready, on, at set point');
    expect(valueText([1], named('Sensor fault'))).toBe('on');
    expect(valueText(null, named('Sensor fault'))).toBe('');
    const shown = named('Shown on the yard display');
    expect([
      readText(null, shown),
      readText(new Array<number>(16).fill(0), shown),
      readText([610], named('Kiln air-on temperature')),
    ]).toEqual(['', 'no text', '61.0 °C']);
  });

  it('take what a person types, or say why not', () => {
    expect(wordsFromInput('61,5', named('Kiln air-on temperature'))).toEqual({ ok: true, value: [615] });
    expect(wordsFromInput('off', named('Sensor fault'))).toEqual({ ok: true, value: [0] });
    expect(wordsFromInput('bits 0, 1', named('Status word'))).toEqual({ ok: true, value: [3] });
    expect(wordsFromInput('0x80', named('Command word'))).toEqual({ ok: true, value: [128] });
    expect(wordsFromInput('maybe', named('Sensor fault')).ok).toBeFalse();
    expect(wordsFromInput('warm', named('Kiln air-on temperature')).ok).toBeFalse();
    expect(wordsFromInput('9999', named('Kiln air-on temperature')).ok).toBeFalse();
  });

  it('say ages in the unit that fits', () => {
    expect([ageText(0, 430), ageText(0, 12_000), ageText(0, 180_000), ageText(null, 5)]).toEqual(['0.4 s', '12 s', '3 min', '']);
  });
});

describe('places on the screen', () => {
  it('are written as the papers of their device do', () => {
    expect(addressOf(named('Air-on temperature'), device('Air-on transmitter'))).toBe('30011');
    expect(addressOf(named('Kiln air-on temperature'), device('Kiln controller'))).toBe('W40');
    expect(addressOf(named('Damper is open'), device('Kiln controller'))).toBe('B3');
  });

  it('name lines and ports as the trade does', () => {
    expect(demo.lines.map(lineText)).toEqual([
      'Ethernet 10.40.8.0/24',
      'RS-485 two-wire · 19200 8E1 RTU · 430 m',
      'RS-485 two-wire · 9600 8N1 RTU · 820 m',
      'RS-232 · 9600 7E1 text · 9 m',
      'RS-232 · 9600 8N1 text · 6 m',
      'CAN 250 kbit/s · 29-bit identifiers',
      'Telecontrol, IEEE 1815',
      'Cyclic link, 16 bytes in, 12 out · every 100 ms',
    ]);
    expect(demo.ports.map(portText)).toContain('unit 21');
  });
});
