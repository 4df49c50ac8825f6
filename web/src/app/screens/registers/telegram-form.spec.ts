import { fernhollow } from '@plain-envoy/core/demo';
import { DeviceTelegram } from '@plain-envoy/core/model';
import { bareSample, fieldOfMark, issueAt, telegramGroup, telegramOfTyped } from './telegram-form';

const [weighing, sample] = fernhollow().telegrams as [DeviceTelegram, DeviceTelegram];

describe('The form of a telegram', () => {
  it('gives back what it was made of', () => {
    const lengthened: DeviceTelegram = {
      ...sample,
      telegram: {
        ...{ lengthField: { from: 0, length: 2, written: 'decimal', adds: 3 }, encoding: 'latin1', start: '02' },
        fields: [{ name: 'all', at: { pattern: '^(.*)$', group: 1 }, kind: 'hex', padWith: '0' }],
      },
      when: { on: 'change', atLeastMs: null },
    };
    const silent: DeviceTelegram = { ...sample, telegram: { silence: true, encoding: 'ascii', fields: sample.telegram.fields } };
    for (const telegram of [weighing, sample, lengthened, silent]) {
      const typed = telegramGroup(telegram).getRawValue();
      expect(DeviceTelegram.parse(telegramOfTyped(typed, telegram)))
        .withContext(telegram.name)
        .toEqual(DeviceTelegram.parse(telegram));
    }
  });

  it('shows bytes as they are typed', () => {
    const { end, start } = telegramGroup({
      ...weighing,
      telegram: { ...weighing.telegram, end: ['0D 0A', '03'], start: '02' },
    }).getRawValue();
    expect([end, start]).toEqual(['<CR><LF> <ETX>', '<STX>']);
  });

  it('says what is wrong at its field', () => {
    const typed = telegramGroup(weighing).getRawValue();
    const wrong = {
      ...typed,
      name: '',
      lostAfterMs: 'x',
      fields: typed.fields.map((field, index) => (index === 1 ? { ...field, count: '' } : field)),
    };
    const { error } = DeviceTelegram.safeParse(telegramOfTyped(wrong, weighing));
    const places = error!.issues.map((issue) => issueAt(issue).path.join('.'));
    expect(places).toContain('name');
    expect(places).toContain('lostAfterMs');
    expect(places.some((place) => place.startsWith('fields.1.'))).toBeTrue();
  });
});

describe('Characters that are marked in a sample', () => {
  it('are a field between separators where they are just that, else one by position', () => {
    const line = '0042;+018405;S\r';
    expect(fieldOfMark(line, 5, 12, 'gross')).toEqual({ name: 'gross', kind: 'integer', at: { separator: ';', number: 1 } });
    expect(fieldOfMark(line, 13, 14, 'status')).toEqual({ name: 'status', kind: 'text', at: { separator: ';', number: 2 } });
    expect(fieldOfMark(line, 6, 9, 'part')).toEqual({ name: 'part', kind: 'integer', at: { from: 6, length: 3 } });
    expect(fieldOfMark('T 061.5C', 2, 7, 'warm')).toEqual({ name: 'warm', kind: 'decimal', at: { from: 2, length: 5 } });
  });

  it('are counted from the first after the start', () => {
    expect(bareSample('<STX>ABC<CR>', { start: '02' })).toEqual({ text: 'ABC\r', skipped: 1 });
    expect(bareSample('ABC', { start: '02' })).toEqual({ text: 'ABC', skipped: 0 });
  });
});
