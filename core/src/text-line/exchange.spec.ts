import '../re2/index.js';
import { fernhollow } from '../demo/index.js';
import type { DeviceTelegram, Point } from '../model/index.js';
import { blankPoint } from '../model/index.js';
import { fieldOfWords, TextExchange, wordsOfField } from './index.js';
import { textsOf } from '../converter/index.js';
import type { CarriedTelegram, PointMemory } from '../converter/index.js';

const demo = fernhollow();
const weighing = textsOf(demo)[demo.lines.find(({ name }) => name === 'Weighbridge cable')!.id]![0]!;
const bytes = (text: string) => Uint8Array.from(text, (character) => character.charCodeAt(0));
const SOUND = '0042;+018405;S;76\r';

/** An end of a line whose values are kept by name. */
function end(telegrams: readonly CarriedTelegram[], as: 'converter' | 'device' = 'converter') {
  const words = new Map<string, number[]>();
  const sent: string[] = [];
  const memory: PointMemory = {
    read: ({ name }) => words.get(name) ?? [0],
    write: (point, value) => void words.set(point.name, value),
  };
  const port = { isFull: false };
  const exchange = new TextExchange({ telegrams, as, memory, send: (out) => !port.isFull && sent.push(String.fromCharCode(...out)) > 0 });
  const valueOf = (name: string) => {
    const point = telegrams.flatMap(({ points }) => points).find((one) => one.name === name)!;
    const read = fieldOfWords(words.get(name) ?? [], point);
    return read.ok ? read.value : read.problem.message;
  };
  return { exchange, words, sent, port, valueOf, counters: (nowMs = 0) => exchange.state(nowMs).telegrams[0]! };
}

const ids = { projectId: demo.project.id, deviceId: weighing.deviceId };
function carried(id: string, fields: Partial<DeviceTelegram>, points: Partial<Point>[] = []): CarriedTelegram {
  const own = points.map((point, index): Point => ({ ...blankPoint({ id: `${id} ${index}`, ...ids }), ...point }));
  return { ...weighing, id, ...fields, points: own };
}
const at = (telegramId: string, field: string) => ({ place: { kind: 'field' as const, telegramId, field, pinned: false } });

describe('One end of a text line', () => {
  it('puts what a sound text says into the points of its fields, and says that it is valid for as long as it may be', () => {
    const { exchange, valueOf, counters } = end([weighing]);
    exchange.hear(bytes(SOUND), 0);
    expect(['Weighing number', 'Gross weight', 'Weighing status', 'Weighing is valid'].map(valueOf)).toEqual([42, 18_405, 'at rest', 1]);
    exchange.step(2000);
    expect(valueOf('Weighing is valid')).toBe(1);
    exchange.step(2001);
    expect(valueOf('Weighing is valid')).toBe(0);
    expect(counters(2001)).toEqual(jasmine.objectContaining({ count: 1, damaged: 0, ageMs: 2001 }));
  });

  it('leaves values alone where a text is damaged, counts it, and says why', () => {
    const { exchange, valueOf, counters } = end([weighing]);
    exchange.hear(bytes(SOUND), 0);
    exchange.hear(bytes('0042;+018406;S;76\r'), 500);
    expect(valueOf('Gross weight')).toBe(18_405);
    expect(valueOf('Weighing is valid')).toBe(1);
    exchange.step(510);
    expect(valueOf('Weighing is valid')).withContext('the last one was not sound').toBe(0);
    expect([counters().damaged, valueOf('Weighings damaged')]).toEqual([1, 1]);
    expect(exchange.state(510).texts.at(-1)).toEqual(jasmine.objectContaining({ text: '0042;+018406;S;76<CR>', telegramId: weighing.id }));
    expect(exchange.state(510).texts.at(-1)!.problems[0]).toContain('check');
  });

  it('gives a text up that does not come to its end, as where the end mark is damaged each time', () => {
    const { exchange, counters } = end([weighing]);
    exchange.hear(bytes(SOUND), 0, { framingErrors: [], parityErrors: [SOUND.length - 1] });
    exchange.step(100);
    expect(counters().damaged).toBe(0);
    exchange.step(250);
    const { texts, parityErrors } = exchange.state(250);
    expect([counters().damaged, parityErrors, texts.at(-1)!.text, texts.at(-1)!.problems]).toEqual([
      1,
      1,
      '0042;+018405;S;76',
      ['It did not come to its end.'],
    ]);
    exchange.hear(bytes(SOUND), 500);
    expect(counters().count).toBe(1);
  });

  it('tells two kinds of text apart, and counts for neither what is none', () => {
    const kind = (id: string, pattern: string) =>
      carried(id, { telegram: { end: ['0D'], encoding: 'ascii', fields: [{ name: 'v', at: { pattern }, kind: 'integer' }] } });
    const { exchange } = end([kind('a', '^A(\\d+)$'), kind('b', '^B(\\d+)$')]);
    exchange.hear(bytes('A1\rB22\rB3\r'), 0);
    expect(exchange.state(0).telegrams.map(({ count, damaged }) => [count, damaged])).toEqual([
      [1, 0],
      [2, 0],
    ]);
    exchange.hear(bytes('C1\r'), 10);
    const { telegrams } = exchange.state(10);
    expect(telegrams.reduce((sum, { damaged }) => sum + damaged, 0)).toBe(1);
  });

  it('counts the numbers of a counter that were left out', () => {
    const counting = carried('c', {
      telegram: { end: ['0D'], encoding: 'ascii', fields: [{ name: 'n', at: { separator: ';', number: 0 }, kind: 'counter' }] },
    });
    const { exchange, counters } = end([counting]);
    for (const number of [1, 2, 2, 5, 9999, 0, 1]) exchange.hear(bytes(`${number}\r`), 0);
    expect(counters().skipped).toBe(2);
  });

  it('says which value does not fit its point, and takes the text for no good one', () => {
    const narrow = carried(
      'n',
      { telegram: { end: ['0D'], encoding: 'ascii', fields: [{ name: 'v', at: { separator: ';', number: 0 }, kind: 'integer' }] } },
      [{ name: 'Narrow', type: 'uint16', ...at('n', 'v') }],
    );
    const { exchange, words, counters } = end([narrow]);
    exchange.hear(bytes('70000\r'), 0);
    expect([words.has('Narrow'), counters().ageMs]).toEqual([false, null]);
    expect(exchange.state(0).texts[0]!.problems[0]).toContain('Narrow: ');
  });

  describe('that sends', () => {
    const command = (when: DeviceTelegram['when']) =>
      carried(
        'q',
        {
          ...{ direction: 'taken', when, timeoutMs: 300, tries: 2 },
          telegram: {
            ...{ end: ['0D'], encoding: 'ascii' },
            fields: [{ name: 'target', at: { from: 0, length: 4 }, kind: 'integer', pad: 'left', padWith: '0' }],
          },
        },
        [{ name: 'Target', type: 'uint16', ...at('q', 'target') }],
      );

    it('does so at its period, from the values as they are then', () => {
      const { exchange, sent, words } = end([command({ on: 'period', periodMs: 1000 })]);
      words.set('Target', [7]);
      for (const now of [0, 400, 999, 1000, 1500]) exchange.step(now);
      words.set('Target', [12]);
      exchange.step(2000);
      expect(sent).toEqual(['0007\r', '0007\r', '0012\r']);
    });

    it('does so when a value has changed, and not at the start', () => {
      const { exchange, sent, words } = end([command({ on: 'change', atLeastMs: null })]);
      words.set('Target', [7]);
      exchange.begin();
      for (const [now, value] of [
        [0, 7],
        [50, 8],
        [100, 8],
        [150, 8],
        [200, 7],
      ] as const) {
        words.set('Target', [value]);
        exchange.step(now);
      }
      expect(sent).toEqual(['0008\r', '0007\r']);
    });

    it('does so as well for the first value that is written, whatever was there', () => {
      const { exchange, sent } = end([command({ on: 'change', atLeastMs: null })]);
      exchange.begin();
      exchange.wrote(({ name }) => name === 'Another');
      exchange.step(0);
      expect(sent).toEqual([]);
      for (const now of [50, 100]) {
        exchange.wrote(({ name }) => name === 'Target');
        exchange.step(now);
      }
      expect(sent).toEqual(['0000\r']);
    });

    it('sends a change that the port did not take as soon as it does, and counts only what was sent', () => {
      const asked = command({ on: 'change', atLeastMs: null });
      const number = { name: 'number', at: { from: 4, length: 2 }, kind: 'counter', pad: 'left', padWith: '0' } as const;
      const counted = { ...asked, telegram: { ...asked.telegram, fields: [...asked.telegram.fields, number] } };
      const { exchange, sent, words, port, counters } = end([counted]);
      words.set('Target', [7]);
      exchange.begin();
      words.set('Target', [8]);
      port.isFull = true;
      for (const now of [50, 100]) exchange.step(now);
      expect([sent, counters().count]).toEqual([[], 0]);
      expect(counters().problem).toContain('as much waits as the port can hold');
      port.isFull = false;
      for (const now of [150, 200]) exchange.step(now);
      expect([sent, counters().problem]).toEqual([['000801\r'], null]);
    });

    it('says what cannot be sent', () => {
      const { exchange, sent, words, counters } = end([command({ on: 'period', periodMs: 1000 })]);
      words.set('Target', [12_345]);
      exchange.step(0);
      expect([sent, counters().problem]).toEqual([[], 'target is “12345”, which has 5 characters; there is room for 4.']);
    });

    it('waits for the answer as long as it is said to, tries again, and counts what got none', () => {
      const answer = carried('r', {
        ...{ direction: 'sent', when: { on: 'request', telegramId: 'q' } },
        telegram: {
          end: ['0D'],
          encoding: 'ascii',
          fields: [{ name: 'word', at: { from: 0, length: 2 }, kind: 'code', codes: { OK: 'taken' } }],
        },
      });
      const { exchange, sent } = end([command({ on: 'period', periodMs: 2000 }), answer]);
      const asked = () => exchange.state(0).telegrams.find(({ id }) => id === 'q')!;
      exchange.step(0);
      exchange.step(299);
      expect(sent.length).toBe(1);
      exchange.step(300);
      expect(sent.length).toBe(2);
      exchange.step(600);
      expect([sent.length, asked().unanswered]).toEqual([2, 1]);
      exchange.step(2000);
      exchange.hear(bytes('OK\r'), 2100);
      exchange.step(2700);
      expect([sent.length, asked().unanswered]).toEqual([3, 1]);
    });

    it('answers as the device', () => {
      const question = command({ on: 'period', periodMs: 1000 });
      const answer = carried(
        'r',
        {
          ...{ direction: 'sent', when: { on: 'request', telegramId: 'q' } },
          telegram: { end: ['0D'], encoding: 'ascii', fields: [{ name: 'is', at: { from: 0, length: 4 }, kind: 'integer' }] },
        },
        [{ name: 'Target', type: 'uint16', ...at('r', 'is') }],
      );
      const { exchange, sent } = end([question, answer], 'device');
      exchange.hear(bytes('0033\r'), 0);
      expect(sent).toEqual(['  33\r']);
    });
  });
});

describe('A field as registers', () => {
  it('is laid out as its point says, with scale, codes and bits by name', () => {
    const point = (fields: Partial<Point>): Point => ({ ...blankPoint({ id: '', ...ids }), ...fields });
    const words = (value: string | number, fields: Partial<Point>) => {
      const found = wordsOfField(value, point(fields));
      return found.ok ? found.value : found.problem.message;
    };
    expect(words(18_405, { type: 'int32', order: 'CDAB' })).toEqual([18_405, 0]);
    expect(words(4.3, { scale: { factor: 0.01, offset: 0 } })).toEqual([430]);
    expect(words('at rest', { codes: [{ value: 3, name: 'at rest' }], scale: { factor: 0.1, offset: 0 } })).toEqual([3]);
    expect(words('AB', { type: 'string', length: 2, encoding: 'ascii' })).toEqual([0x4142, 0]);
    expect([words(1, { type: 'bit', bit: 3 }), words('off', { type: 'bit', bit: 3 })]).toEqual([[1], [0]]);
    expect(words('moving', {})).toContain('moving');
    expect(fieldOfWords([3], point({ codes: [{ value: 3, name: 'at rest' }] }))).toEqual({ ok: true, value: 'at rest' });
  });

  it('says why a telegram does not go out where no more can wait', () => {
    const of = end([{ ...weighing, direction: 'taken', when: { on: 'period', periodMs: 100 } }], 'converter');
    of.port.isFull = true;
    of.exchange.step(0);
    expect(of.counters()).toEqual(
      jasmine.objectContaining({ count: 0, problem: 'as much waits as the port can hold, and the other side takes nothing.' }),
    );
  });
});
