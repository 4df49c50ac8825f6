import { textsOn } from '../converter/index.js';
import { fernhollow } from '../demo/index.js';
import { nameInWords, nameText } from './index.js';

const demo = fernhollow();
const on = (line: string) => textsOn(demo, demo.lines.find(({ name }) => name === line)!.id);
const weighing = on('Weighbridge cable');
const bytes = (text: string) => Uint8Array.from(text, (one) => one.charCodeAt(0));
const said = (text: string, telegrams = weighing) => nameInWords(nameText(telegrams, bytes(text)));

describe('What a text is', () => {
  it('is told by its telegram and its fields, several in one stretch too', () => {
    expect(said('0042;+018405;S;76\r')).toBe('Weigh indicator sends Weighing: number 42, gross 18405, status at rest');
    expect(said('0042;+018405;S;76\r0042;+017155;M;67\r')).toContain('gross 18405, status at rest; Weigh indicator sends');
    const taken = weighing.map((telegram) => ({ ...telegram, direction: 'taken' as const }));
    expect(said('0042;+018405;S;76\r', taken)).toMatch(/^Weigh indicator is sent Weighing: /);
  });

  it('says what is wrong with one that is damaged, and why another is none', () => {
    expect(said('0042;+018405;S;77\r')).toMatch(/^Weigh indicator sends Weighing, damaged: check /);
    expect(said('MO0042')).toBe('No telegram: it did not come to its end.');
    expect(said('hello', [])).toBe('No telegram of this line.');
  });

  it('takes of several the one that is sound', () => {
    const other = {
      ...weighing[0]!,
      id: 'other',
      name: 'Other',
      telegram: { ...weighing[0]!.telegram, fields: weighing[0]!.telegram.fields.slice(3) },
    };
    const worse = {
      ...other,
      telegram: { ...other.telegram, fields: [{ name: 'n', at: { from: 4, length: 3 }, kind: 'integer' as const }] },
    };
    expect(nameText([worse, weighing[0]!], bytes('0042;+018405;S;76\r')).found[0]?.telegram.name).toBe('Weighing');
    expect(nameText([weighing[0]!, worse], bytes('0042;+018405;S;76\r')).found[0]?.telegram.name).toBe('Weighing');
    expect(nameText([worse, other], bytes('0042;+018405;S;77\r')).found[0]?.parsed.ok).toBeFalse();
  });
});
