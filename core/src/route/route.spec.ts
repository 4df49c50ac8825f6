import '../formula/index.js';
import fc from 'fast-check';
import { fernhollow } from '../demo/index.js';
import { type Point, pointLayout } from '../model/index.js';
import { encode } from '../value/index.js';
import { carryAcross, type Chain, coarserThan, factorsWithinUnit, masksOf, overflowsOf } from './index.js';
import { type Transform, describeChain, inverseChain, readExpression } from '../steps/index.js';
import { checkEnds } from '../checks/index.js';

const { points } = fernhollow();
const named = (name: string): Point => points.find((point) => point.name === name)!;
const base = named('Damper set point');
const register = (fields: Partial<Point> = {}): Point => ({ ...base, type: 'uint16', scale: null, unit: '', order: 'ABCD', ...fields });
const chain = (source: Point, destination: Point, transforms: Transform[] = [], carry: Chain['carry'] = 'value'): Chain => ({
  source,
  destination,
  carry,
  transforms,
});
const words = (outcome: ReturnType<typeof carryAcross>) =>
  outcome.ok ? (outcome.value.kind === 'words' ? outcome.value.words : outcome.value.kind) : outcome.problem.message;
/** What arrives as a signed 32-bit number for a value at the source, after these steps. */
const through = (value: number, ...transforms: Transform[]) => {
  const source = register({ type: 'float64', order: 'ABCDEFGH' });
  const destination = register({ type: 'float64', order: 'ABCDEFGH' });
  const given = encode(value, pointLayout(source)!);
  if (!given.ok) throw new Error(given.problem.message);
  const carried = carryAcross(given.value.words, chain(source, destination, transforms));
  return carried.ok ? (carried.value.kind === 'words' ? carried.value.value : carried.value.kind) : carried.problem.message;
};

describe('carryAcross', () => {
  it('takes a value from one layout to another', () => {
    expect(words(carryAcross([0, 0x4276], chain(named('Air-on temperature'), named('Kiln air-on temperature'))))).toEqual([615]);
  });

  it('takes registers and bits as they are', () => {
    expect(words(carryAcross([3], chain(named('Position'), named('Damper position'), [], 'registers')))).toEqual([3]);
    expect(words(carryAcross([1], chain(named('Sensor fault'), named('Air-on sensor fault'))))).toEqual([1]);
    expect(words(carryAcross([1], chain(named('Sensor fault'), named('Air-on sensor fault'), [], 'registers')))).toEqual([1]);
  });

  it('says which end cannot take a value, and why', () => {
    const across = chain(named('Air-on temperature'), named('Kiln air-on temperature'));
    expect(words(carryAcross([0, 0x7fc0], across))).toBe('Kiln air-on temperature cannot take it: NaN cannot be held as int16.');
    expect(words(carryAcross([0, 0x4974], across))).toContain('int16 holds -3276.8 to 3276.7');
  });

  it('puts a bit, or a few, into a register and says which are its own', () => {
    const flag = register({ type: 'bit', bit: 9 });
    const coil = register({ table: 'coil', type: 'bit' });
    expect([words(carryAcross([1], chain(coil, flag))), masksOf(chain(coil, flag))]).toEqual([[0x200], [0x200]]);
    const part = chain(register(), register(), [{ kind: 'insert', at: 4, count: 3 }]);
    expect([words(carryAcross([5], part)), masksOf(part)]).toEqual([[0x50], [0x70]]);
    expect(words(carryAcross([8], part))).toContain('8 does not fit into 3 bits, which hold 0 to 7');
    const wide = chain(register(), register({ type: 'uint32', order: 'CDAB' }), [{ kind: 'insert', at: 16, count: 8 }]);
    expect([words(carryAcross([0xab], wide)), masksOf(wide)]).toEqual([
      [0, 0xab],
      [0, 0xff],
    ]);
    expect(words(carryAcross([2], chain(register(), flag, [{ kind: 'clamp', low: 0, high: 5 }])))).toContain('2 is no bit');
  });

  it('swaps bytes and words where the registers are read', () => {
    const long = register({ type: 'uint32' });
    const swap = (what: 'bytes' | 'words' | 'both') => words(carryAcross([0x1122, 0x3344], chain(long, long, [{ kind: 'swap', what }])));
    expect([swap('bytes'), swap('words'), swap('both')]).toEqual([
      [0x2211, 0x4433],
      [0x3344, 0x1122],
      [0x4433, 0x2211],
    ]);
  });

  it('cuts and pads text, or says that it is too long', () => {
    const text = register({ type: 'string', length: 3, encoding: 'ascii' });
    const step = (length: number, side: 'left' | 'right', cut: boolean): Transform => ({ kind: 'text', length, pad: 'zero', side, cut });
    const given = encode('ABCD', { type: 'string', length: 3, order: 'ABCD' });
    const from = given.ok ? given.value.words : [];
    const arrive = (transform: Transform) => {
      const carried = carryAcross(from, chain(text, text, [transform]));
      return carried.ok && carried.value.kind === 'words' ? carried.value.value : !carried.ok && carried.problem.message;
    };
    expect([arrive(step(6, 'right', false)), arrive(step(6, 'left', false))]).toEqual(['ABCD00', '00ABCD']);
    expect([arrive(step(2, 'right', true)), arrive(step(2, 'left', true))]).toEqual(['AB', 'CD']);
    expect(arrive(step(2, 'right', false))).toContain('“ABCD” has 4 characters; 2 fit');
  });
});

describe('a value that does not arrive whole', () => {
  const kg = register({ unit: 'kg' });
  const limitedBy = (raw: number[], to: Chain) => {
    const carried = carryAcross(raw, to);
    return carried.ok && carried.value.kind === 'words' ? carried.value.limited : 'not carried';
  };

  it('is told to be limited by the step that cuts it off, and only then', () => {
    const limit: Transform = { kind: 'clamp', low: 0, high: 500 };
    expect(limitedBy([700], chain(kg, kg, [limit]))).toBe('A step limits it: 700 became 500.');
    expect(limitedBy([500], chain(kg, kg, [limit]))).toBeNull();
  });

  it('is told to be limited at the end of what its destination holds, where that is a quantity', () => {
    expect(limitedBy([0xffff], chain(kg, kg, [], 'registers'))).toContain('at the end of what it can hold');
    const signed = register({ type: 'int16', unit: 'kg' });
    expect(limitedBy([0x8000], chain(signed, signed))).toContain('at the end');
    expect(limitedBy([0x7ffe], chain(signed, signed))).toBeNull();
    expect(limitedBy([0], chain(kg, kg)))
      .withContext('0 is a usual number')
      .toBeNull();
    expect(limitedBy([0xffff], chain(register(), register())))
      .withContext('a code is no quantity')
      .toBeNull();
    const wide = register({ type: 'uint64', order: 'ABCDEFGH', unit: 'Wh' });
    expect(limitedBy([0xffff, 0xffff, 0xffff, 0xffff], chain(wide, wide, [], 'registers'))).toContain('at the end');
  });
});

describe('steps that only multiply', () => {
  const multiplies = (...transforms: Transform[]) =>
    factorsWithinUnit({ source: register({ unit: 'kg' }), destination: register({ unit: 'kg' }), transforms }).length;

  it('are those that give so many times as much for every number, however they are written', () => {
    for (const expression of ['x * 0.1', '10*x', 'x / 4', '-x', 'x*2 + 0'])
      expect(multiplies({ kind: 'arithmetic', expression }))
        .withContext(expression)
        .toBe(1);
    for (const expression of ['x', 'x + 1', '(x - 32) / 1.8', 'x ^ 2', 'abs(x)', 'x % 10', 'round(x)'])
      expect(multiplies({ kind: 'arithmetic', expression }))
        .withContext(expression)
        .toBe(0);
    expect([multiplies({ kind: 'scale', factor: 2, offset: 0 }), multiplies({ kind: 'scale', factor: 2, offset: 1 })]).toEqual([1, 0]);
  });
});

describe('the steps of a chain', () => {
  it('scale, limit, round and calculate', () => {
    expect(through(61.5, { kind: 'scale', factor: 10, offset: 3 })).toBe(618);
    expect(through(3, { kind: 'scale', factor: 0.1, offset: 0 })).toBe(0.3);
    expect(through(140, { kind: 'clamp', low: 0, high: 100 })).toBe(100);
    expect(through(2.345, { kind: 'round', decimals: 2, direction: 'down' })).toBe(2.34);
    expect(through(2.341, { kind: 'round', decimals: 2, direction: 'up' })).toBe(2.35);
    expect(through(-2.5, { kind: 'round', decimals: 0, direction: 'nearest' })).toBe(-2);
    expect(through(212, { kind: 'arithmetic', expression: '(x - 32) / 1.8' })).toBe(100);
    expect(through(7, { kind: 'constant', value: -1 })).toBe(-1);
  });

  it('take bits out, invert them, and cast', () => {
    expect(through(0b1011_0100, { kind: 'extract', at: 2, count: 3 })).toBe(0b101);
    expect(through(0b0101, { kind: 'invert', count: 4 })).toBe(0b1010);
    expect(through(65_535, { kind: 'cast', type: 'int16', past: 'wrap' })).toBe(-1);
    expect(through(-40_000, { kind: 'cast', type: 'int16', past: 'stop' })).toBe(-32_768);
    expect(through(2.5, { kind: 'extract', at: 0, count: 1 })).toContain('2.5 is no whole number');
  });

  it('translate codes, and say which one is missing', () => {
    const pairs = [
      { from: 1, to: 10 },
      { from: 2, to: 20 },
    ];
    expect(through(2, { kind: 'codes', pairs, otherwise: null })).toBe(20);
    expect(through(3, { kind: 'codes', pairs, otherwise: 0 })).toBe(0);
    expect(through(3, { kind: 'codes', pairs, otherwise: null })).toBe('Step 1, codes: Code 3 is not in the list.');
  });

  it('never crash, whatever comes: what cannot be calculated is said', () => {
    expect(through(0, { kind: 'arithmetic', expression: '1 / x' })).toBe(
      'Step 1, arithmetic: 1 / x has no value at x = 0, where it divides by zero.',
    );
    expect(through(NaN, { kind: 'scale', factor: 2, offset: 0 })).toContain('NaN is no number');
    const steps = fc.constantFrom<Transform>(
      { kind: 'scale', factor: -3, offset: 1e300 },
      { kind: 'clamp', low: -1, high: 1 },
      { kind: 'round', decimals: 9, direction: 'up' },
      { kind: 'cast', type: 'uint32', past: 'wrap' },
      { kind: 'extract', at: 31, count: 1 },
      { kind: 'insert', at: 0, count: 32 },
      { kind: 'invert', count: 32 },
      { kind: 'codes', pairs: [{ from: 0, to: 1 }], otherwise: null },
      { kind: 'arithmetic', expression: 'sqrt(x) % x ^ 2' },
      { kind: 'rate', perSecond: 1 },
      { kind: 'deadband', by: 1 },
      { kind: 'select', pointId: base.id, otherwise: 0, otherwiseId: null },
      { kind: 'join', pointId: base.id, at: 16, count: 16 },
      { kind: 'text', length: 1, pad: 'none', side: 'left', cut: true },
    );
    const types = fc.constantFrom<Point['type']>('int16', 'uint32', 'float32', 'bcd16', 'bits', 'bit', 'string');
    const any = fc.record({
      from: types,
      to: types,
      chain: fc.array(steps, { maxLength: 4 }),
      given: fc.array(fc.integer({ min: 0, max: 65_535 }), { minLength: 2, maxLength: 2 }),
    });
    fc.assert(
      fc.property(any, ({ from, to, chain: transforms, given }) => {
        const point = (type: Point['type']) =>
          register({ type, length: type === 'string' || type === 'bits' ? 2 : null, bit: type === 'bit' ? 3 : null });
        const outcome = carryAcross(
          given.slice(0, from === 'int16' || from === 'bcd16' || from === 'bit' ? 1 : 2),
          chain(point(from), point(to), transforms),
        );
        if (!outcome.ok) expect(outcome.problem.message).toMatch(/\w+.*\.$/);
      }),
    );
  });

  it('hold a value that has not moved enough, and let it move only so fast', () => {
    const whole = register({ type: 'int16' });
    const at = (value: number, step: Transform, before: { value: number; atMs: number }, nowMs: number) =>
      words(carryAcross([value], chain(whole, whole, [step]), [before], { nowMs, wordsOf: () => null, point: () => undefined }));
    expect(at(104, { kind: 'deadband', by: 5 }, { value: 100, atMs: 0 }, 0)).toBe('held');
    expect(at(105, { kind: 'deadband', by: 5 }, { value: 100, atMs: 0 }, 0)).toEqual([105]);
    expect(at(200, { kind: 'rate', perSecond: 10 }, { value: 100, atMs: 1000 }, 1500)).toEqual([105]);
    expect(at(0, { kind: 'rate', perSecond: 10 }, { value: 100, atMs: 1000 }, 3000)).toEqual([80]);
    const first = carryAcross([104], chain(whole, whole, [{ kind: 'deadband', by: 5 }]));
    expect(first.ok && first.value.kind === 'words' && first.value.memory).toEqual([{ value: 104, atMs: 0 }]);
  });

  it('choose by a bit of another point, once that is known', () => {
    const whole = register({ type: 'int16' });
    const flag = register({ type: 'bit', bit: 3, id: named('Sensor fault').id });
    const select: Transform = { kind: 'select', pointId: flag.id, otherwise: 7, otherwiseId: null };
    const given = (other: number[] | null) =>
      words(carryAcross([42], chain(whole, whole, [select]), [], { nowMs: 0, wordsOf: () => other, point: () => flag }));
    expect([given([8]), given([7])]).toEqual([[42], [7]]);
    expect(given(null)).toContain('is not known');
  });

  it('take the value of another point while a bit is off, and join two registers to one number', () => {
    const [low, long] = [register({ type: 'uint16' }), register({ type: 'uint32' })];
    const other = register({ type: 'uint16', id: named('Damper set point').id });
    const flag = register({ type: 'bit', bit: 0, id: named('Sensor fault').id });
    const around = (bit: number, word: number[] | null) => ({
      nowMs: 0,
      wordsOf: (id: string) => (id === flag.id ? [bit] : word),
      point: (id: string) => (id === flag.id ? flag : other),
    });
    const select: Transform = { kind: 'select', pointId: flag.id, otherwise: 7, otherwiseId: other.id };
    const selected = (bit: number) => words(carryAcross([42], chain(low, low, [select]), [], around(bit, [9])));
    expect([selected(1), selected(0)]).toEqual([[42], [9]]);
    const join: Transform = { kind: 'join', pointId: other.id, at: 16, count: 16 };
    const joined = (word: number[] | null) => words(carryAcross([0x1234], chain(low, long, [join]), [], around(0, word)));
    expect(joined([0xabcd])).toEqual([0xabcd, 0x1234]);
    expect(joined(null)).toContain('is not known');
    const bit: Transform = { kind: 'join', pointId: flag.id, at: 5, count: 1 };
    expect(words(carryAcross([0x40], chain(low, low, [bit]), [], around(1, null)))).toEqual([0x60]);
  });
});

describe('inverseChain', () => {
  it('brings every value back where each step can be undone', () => {
    const undoable: Transform[] = [
      { kind: 'scale', factor: 4, offset: -12 },
      { kind: 'invert', count: 20 },
      { kind: 'codes', pairs: Array.from({ length: 8 }, (_, from) => ({ from, to: 100 + 3 * from })), otherwise: null },
    ];
    const scaled = undoable[0]!;
    fc.assert(
      fc.property(fc.integer({ min: -9999, max: 9999 }), (value) => {
        expect(through(value, scaled, ...inverseChain([scaled]).steps)).toBe(value);
      }),
    );
    for (let code = 0; code < 8; code++) expect(through(code, undoable[2]!, ...inverseChain([undoable[2]!]).steps)).toBe(code);
    expect(through(77, undoable[1]!, ...inverseChain([undoable[1]!]).steps)).toBe(77);
    expect(inverseChain([...undoable, { kind: 'round', decimals: 0, direction: 'up' }]).lost).toEqual(['round']);
    expect(inverseChain([{ kind: 'extract', at: 3, count: 1 }]).steps).toEqual([{ kind: 'insert', at: 3, count: 1 }]);
  });
});

describe('readExpression', () => {
  const value = (text: string, x: number) => {
    const read = readExpression(text);
    const result = read.ok ? read.value.at(x) : read;
    return result.ok ? result.value : result.problem.message;
  };

  it('works out numbers, x, operators and a few functions', () => {
    expect([value('2 + x * 3', 4), value('-x ^ 2', 3), value('max(abs(x), 1)', -5), value('x % 4', 10)]).toEqual([14, 9, 5, 2]);
  });

  it('refuses everything else, and says what', () => {
    expect(value('y + 1', 0)).toContain('the only variable is x, not y');
    expect(value('x.constructor', 0)).toContain('no formula of numbers and x');
    expect(value('eval(1)', 0)).toContain('there is no function eval');
    expect(value('constructor(x)', 0)).toContain('there is no function constructor');
    expect(value('x +', 0)).toContain('cannot be read');
    expect(value('x; 2', 0)).toContain('no formula');
    expect(value('max()', 0)).toContain('needs a value');
    expect(value(`${'('.repeat(60)}x${')'.repeat(60)} ${'+ (x'.repeat(60)}${')'.repeat(60)}`, 0)).toContain('nested too deeply');
    expect(value("'a'", 0)).toContain('no number');
  });
});

describe('checkEnds', () => {
  const checks = (source: Point, destination: Point, carry: Chain['carry'] = 'registers', transforms: Transform[] = []) =>
    checkEnds(chain(source, destination, transforms, carry)).map((problem) => problem.check);

  it('finds each thing that keeps a value from crossing', () => {
    const airOn = named('Air-on temperature');
    const kilnAirOn = named('Kiln air-on temperature');
    expect(checks(airOn, kilnAirOn, 'value')).toEqual([]);
    expect(checks(airOn, kilnAirOn)).toEqual(['width']);
    expect(checks(base, named('Position'))).toEqual(['read-only-table']);
    expect(checks(named('Sensor fault'), kilnAirOn)).toEqual(['bit-and-register']);
    expect(checks(base, base)).toEqual(['same-point']);
    expect(checks({ ...named('Set point'), access: 'write' }, { ...base, access: 'read' })).toEqual([
      'read-only-point',
      'write-only-source',
    ]);
  });

  it('lets a bit become a number, and a number a bit by a step only', () => {
    const bit = named('Sensor fault');
    const flag = register({ id: bitId, type: 'bit', bit: 2 });
    expect(checks(bit, register(), 'value')).toEqual([]);
    expect(checks(register(), flag, 'value')).toEqual(['bit-and-register']);
    expect(checks(register(), flag, 'value', [{ kind: 'extract', at: 4, count: 1 }])).toEqual([]);
    expect(checks(register({ type: 'string', length: 4 }), register({ id: bitId }), 'value')).toEqual(['text-and-number']);
  });

  it('finds steps that cannot work where they are', () => {
    const [from, to] = [register(), register({ id: bitId })];
    expect(checks(from, to, 'registers', [{ kind: 'constant', value: 1 }])).toEqual(['steps-need-value']);
    expect(checks(from, to, 'value', [{ kind: 'arithmetic', expression: 'z' }])).toEqual(['step']);
    expect(
      checks(from, to, 'value', [
        { kind: 'constant', value: 1 },
        { kind: 'swap', what: 'bytes' },
      ]),
    ).toEqual(['step']);
    expect(
      checks(from, to, 'value', [
        { kind: 'insert', at: 0, count: 1 },
        { kind: 'constant', value: 1 },
      ]),
    ).toEqual(['step']);
  });
});

const bitId = named('Sensor fault').id;

describe('overflowsOf', () => {
  const of = (source: Partial<Point>, destination: Partial<Point>, ...transforms: Transform[]) =>
    overflowsOf(chain(register(source), register(destination), transforms)).map(({ side, limit, atSource, isCertain }) => [
      side,
      limit,
      atSource,
      isCertain,
    ]);

  it('tells the value at the source from which on the destination cannot hold it', () => {
    expect(of({ type: 'uint16' }, { type: 'uint16' })).toEqual([]);
    expect(of({ type: 'uint16' }, { type: 'int16' })).toEqual([['above', 32_767, 32_767, true]]);
    expect(of({ type: 'int16' }, { type: 'uint16' })).toEqual([['below', 0, 0, true]]);
    expect(of({ type: 'uint16' }, { type: 'uint16' }, { kind: 'scale', factor: 10, offset: 0 })).toEqual([['above', 65_535, 6553.5, true]]);
    expect(of({ type: 'float32' }, { type: 'int16', scale: { factor: 0.1, offset: 0 } })).toEqual([
      ['above', 3276.7, 3276.7, false],
      ['below', -3276.8, -3276.8, false],
    ]);
  });

  it('is quiet where a step keeps the value within bounds', () => {
    expect(of({ type: 'float32' }, { type: 'int16' }, { kind: 'clamp', low: -5, high: 500 })).toEqual([]);
    expect(of({ type: 'uint32' }, { type: 'bit', bit: 1 }, { kind: 'extract', at: 30, count: 1 })).toEqual([]);
    expect(of({ type: 'uint32' }, { type: 'uint16' }, { kind: 'cast', type: 'uint16', past: 'stop' })).toEqual([]);
    expect(of({ type: 'uint16' }, { type: 'uint16' }, { kind: 'insert', at: 4, count: 4 })).toEqual([['above', 15, null, true]]);
  });

  it('is right: nothing within the limits told is refused, and the next value past them is', () => {
    const scale = fc.constantFrom(null, { factor: 0.1, offset: 0 }, { factor: 2, offset: -50 });
    const types = fc.constantFrom<'int16' | 'uint16'>('int16', 'uint16');
    fc.assert(
      fc.property(types, scale, types, scale, fc.integer({ min: 0, max: 65_535 }), (from, fromScale, to, toScale, raw) => {
        const across = chain(register({ type: from, scale: fromScale }), register({ type: to, scale: toScale }));
        const carried = carryAcross([raw], across);
        const fits = overflowsOf(across).length === 0;
        if (fits) expect(carried.ok).toBeTrue();
      }),
    );
  });
});

describe('coarserThan', () => {
  it('sees decimals that the destination does not hold, unless a step says so', () => {
    const tenths = register({ scale: { factor: 0.1, offset: 0 } });
    expect(coarserThan(chain(tenths, register()))).toEqual({ source: 0.1, destination: 1 });
    expect(coarserThan(chain(register(), tenths))).toBeNull();
    expect(coarserThan(chain(tenths, register(), [{ kind: 'round', decimals: 0, direction: 'nearest' }]))).toBeNull();
  });
});

describe('describeChain', () => {
  it('says the steps as they stand on a ribbon', () => {
    expect(
      describeChain([
        { kind: 'scale', factor: 10, offset: 0 },
        { kind: 'round', decimals: 0, direction: 'nearest' },
        { kind: 'insert', at: 4, count: 4 },
      ]),
    ).toBe('× 10, round → whole, into bits 4…7');
    expect(describeChain([])).toBe('');
  });
});
