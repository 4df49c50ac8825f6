import { putSignal, wordsOfSignal } from '../can-line/index.js';
import { type CarriedLink, linkOn } from '../converter/index.js';
import { fernhollow } from '../demo/index.js';
import { blankPoint, type Point, readPoint } from '../model/index.js';
import { compileProgram, type Program } from '../program/index.js';
import type { PointType } from '../types/index.js';
import { linkProgram, PreparedLink } from './index.js';

const demo = fernhollow();
const drawn = linkOn(demo, demo.lines.find(({ kind }) => kind === 'cyclic')!.id)!;
const [IN, OUT] = [24, 24];

/** The blocks of a link in a program that hands raw bytes in and values through, and gives both back. */
function running(link: CarriedLink): Program {
  const text = `${linkProgram(link)}
PROGRAM Both
VAR
  back : ARRAY[0..${link.line.outputBytes - 1}] OF BYTE;
  came : ARRAY[0..${link.line.inputBytes - 1}] OF BYTE;
  in : SiloConveyorRead;
  out : SiloConveyorWrite;
  given : SiloConveyorOutput;
  isValid : BOOL := TRUE;
END_VAR
  in(raw := came);
  out(values := given, valid := isValid);
  back := out.raw;
END_PROGRAM`;
  const { program, problems } = compileProgram(text);
  if (!program) throw new Error(`${problems.map(({ line, message }) => `${line}: ${message}`).join('\n')}\n${text}`);
  return program;
}
const valueOf = (program: Program, name: string): unknown => {
  const found = program.read(name);
  return 'value' in found ? found.value : found.why;
};
const write = (program: Program, name: string, value: boolean | number | string) => {
  const why = program.write(name, value);
  if (why) throw new Error(`${name}: ${why}`);
};

let seed = 11;
const random = (below: number) => {
  seed = (seed * 1_103_515_245 + 12_345) & 0x7fffffff;
  return Math.floor((seed / 0x80000000) * below);
};
const kinds: readonly (readonly [PointType, number])[] = [
  ['bit', 1],
  ['bits', 8],
  ['uint16', 16],
  ['int16', 16],
  ['uint32', 32],
  ['int32', 32],
  ['float32', 32],
  ['uint64', 64],
];

/** Values side by side from byte 1 on, some of them in a few bits only, in either order. */
function layout(block: 'input' | 'output'): Point[] {
  const points: Point[] = [];
  for (let byte = 1; byte < 16;) {
    const [type, most] = kinds[random(kinds.length)]!;
    const isPart = random(3) === 0 && most > 1 && most < 64 && type !== 'float32';
    const bits = isPart ? 1 + random(most) : most;
    const bit = isPart || most === 1 ? random(8) : 0;
    const order = bit === 0 && bits % 8 === 0 && random(2) === 0 ? ('big' as const) : ('little' as const);
    points.push({
      ...blankPoint({ id: `${block} ${byte}`, projectId: demo.project.id, deviceId: drawn.stationId }),
      ...{ name: `${block} ${byte}`, type, bit: type === 'bit' ? 0 : null, order: 'ABCD' },
      place: { kind: 'cyclic', block, byte, bit, bits, order, pinned: false },
    });
    byte += Math.ceil((bit + bits) / 8);
  }
  return points;
}

/** The raw value of a point as a program has it. */
function rawOf(words: readonly number[], point: Point): unknown {
  if (point.type === 'bit') return words[0] === 1;
  const whole = words.reduce((sum, word) => (sum << 16n) | BigInt(word), 0n);
  if (point.type === 'bits') return Number(whole);
  const read = readPoint(words, point);
  if (!read.ok) throw new Error(read.problem.message);
  return read.value.raw;
}

describe('Structured Text for a cyclic link', () => {
  it('takes any block apart, and makes any block, as the link itself does', () => {
    for (let turn = 0; turn < 60; turn++) {
      const points = [...layout('input'), ...layout('output')];
      const line = { ...drawn.line, inputBytes: IN, outputBytes: OUT, outputValidByte: null };
      const program = running({ ...drawn, line, points });
      const came = Uint8Array.from({ length: IN }, () => random(256));
      came.forEach((byte, index) => write(program, `came[${index}]`, byte));
      const expected = new Uint8Array(OUT);
      for (const point of points.filter(({ place }) => place.kind === 'cyclic' && place.block === 'output')) {
        const source = Uint8Array.from({ length: OUT }, () => random(256));
        const words = wordsOfSignal(source, point);
        if (!words.ok || !putSignal(expected, point, words.value).ok) throw new Error(point.name);
        write(program, `given.${point.name.replace(' ', '_')}`, rawOf(words.value, point) as number);
      }
      program.scan(50);
      expect(program.stopped).toBeNull();
      for (const point of points.filter(({ place }) => place.kind === 'cyclic' && place.block === 'input')) {
        const words = wordsOfSignal(came, point);
        if (!words.ok) throw new Error(words.problem.message);
        expect(String(valueOf(program, `in.values.${point.name.replace(' ', '_')}`)))
          .withContext(JSON.stringify([point.type, point.place]))
          .toBe(String(rawOf(words.value, point)));
      }
      const back = valueOf(program, 'back') as (number | string)[];
      expect(back.map(Number))
        .withContext(JSON.stringify(points.map(({ type, place }) => [type, place])))
        .toEqual([...expected]);
    }
  });

  it('sets the byte by which the station knows that its outputs are valid, and takes no input that is not', () => {
    const line = { ...drawn.line, inputValidByte: 15, inputValidValue: 0xa5 };
    const program = running({ ...drawn, line });
    write(program, 'came[2]', 180);
    write(program, 'given.Belt_speed_wanted', -2);
    program.scan(50);
    expect([valueOf(program, 'in.valid'), valueOf(program, 'in.values.Belt_speed')]).toEqual([false, 0]);
    expect((valueOf(program, 'back') as unknown[]).slice(0, 4).map(Number)).toEqual([1, 0, 0xfe, 0xff]);
    write(program, 'came[15]', 0xa5);
    write(program, 'isValid', false);
    program.scan(50);
    expect([valueOf(program, 'in.valid'), valueOf(program, 'in.values.Belt_speed')]).toEqual([true, 180]);
    expect(Number((valueOf(program, 'back') as unknown[])[0])).toBe(0);
  });

  it('is what the stand-in of a controller runs: the same values and bytes as the link would give', () => {
    for (let turn = 0; turn < 40; turn++) {
      const points = [...layout('input'), ...layout('output')];
      const line = { ...drawn.line, inputBytes: IN, outputBytes: OUT, outputValidByte: 23, outputValidValue: 7 };
      const prepared = new PreparedLink({ ...drawn, line, points });
      expect(prepared.problem).toBeNull();
      const came = Uint8Array.from({ length: IN }, () => random(256));
      const read = prepared.read(came);
      const [words, expected] = [new Map<string, number[]>(), new Uint8Array(OUT)];
      for (const point of points) {
        if (point.place.kind !== 'cyclic') continue;
        const source = point.place.block === 'input' ? came : Uint8Array.from({ length: OUT }, () => random(256));
        const own = wordsOfSignal(source, point);
        if (!own.ok) throw new Error(own.problem.message);
        if (point.place.block === 'input')
          expect(read.get(point.id))
            .withContext(JSON.stringify([point.type, point.place]))
            .toEqual(own.value);
        else if (putSignal(expected, point, own.value).ok) words.set(point.id, own.value);
      }
      expected[23] = 7;
      expect([...prepared.write(words, true)!]).toEqual([...expected]);
      expect([prepared.write(words, false)![23], prepared.runs]).toEqual([0, 3]);
    }
  });

  it('does not run where a value has no room in it, and says which', () => {
    const wide = {
      ...layout('input')[0]!,
      name: 'Wide',
      type: 'uint64' as const,
      place: { kind: 'cyclic', block: 'input', byte: 3, bit: 4, bits: 62, order: 'little', pinned: false } as const,
    };
    expect(new PreparedLink({ ...drawn, points: [wide] }).problem).toBe('Wide reaches over more than eight bytes, which it leaves out.');
    const least = new PreparedLink({ ...drawn, points: [], line: { ...drawn.line, inputBytes: 1, outputBytes: 1, outputValidByte: null } });
    expect([least.problem, [...least.write(new Map(), true)!]]).toEqual([null, [0]]);
  });

  it('of a link without values compiles all the same, and names what each member is', () => {
    expect(() => running({ ...drawn, points: [] })).not.toThrow();
    expect(linkProgram(drawn)).toContain('  Belt_speed : INT; (* input bytes 2 to 3, little-endian, m/s *)');
    expect(linkProgram(drawn)).not.toContain('Outputs_are_valid');
  });
});
