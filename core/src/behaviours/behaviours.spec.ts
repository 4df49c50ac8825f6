import type { Point } from '../model/index.js';
import { variablesOf } from '../playing/index.js';
import { compileProgram, elementary, stringType, type Type } from '../program/index.js';
import { SmallProject } from '../testing/index.js';
import { behaviours, choicesFor, literalOf, writeBehaviour } from './index.js';

const behaviour = (id: string) => behaviours.find((one) => one.id === id)!;

describe('A ready-made behaviour', () => {
  let points: Point[];

  beforeEach(() => {
    const project = new SmallProject();
    const device = project.device('Drive');
    project.point(device, 'Speed', { table: 'input', offset: 1, scale: { factor: 0.1, offset: 0 }, unit: 'Hz' });
    project.point(device, 'Set point', { offset: 1, scale: { factor: 0.01, offset: -40 } });
    project.point(device, 'Flow', { table: 'input', offset: 4, type: 'float32' });
    project.point(device, 'Command', {
      offset: 2,
      type: 'bits',
      length: 1,
      bits: ['on', 'run', 'reset'].map((name, bit) => ({ bit, name })),
    });
    project.point(device, 'Status', {
      table: 'input',
      offset: 0,
      type: 'bits',
      length: 1,
      bits: ['ready', 'on', 'runs', 'fault'].map((name, bit) => ({ bit, name })),
    });
    project.point(device, 'Text', { offset: 10, type: 'string', length: 4, encoding: 'ascii' });
    project.point(device, 'Reply', { offset: 20, type: 'string', length: 4, encoding: 'ascii' });
    project.point(device, 'Beat', { offset: 30 });
    project.point(device, 'Echo', { offset: 31, type: 'int32' });
    points = project.document.points;
  });

  /** Each ask answered by the first choice, or by those that are given. */
  const answers = (id: string, also: Record<string, string | number> = {}) =>
    Object.fromEntries(
      behaviour(id).asks.map((ask) => [
        ask.key,
        also[ask.key] ?? (ask.kind === 'point' ? choicesFor(points, ask.wants)[0]!.text : ask.first),
      ]),
    );
  const write = (text: string, id: string, also: Record<string, string | number> = {}) => {
    const written = writeBehaviour(text, behaviour(id), points, answers(id, also));
    if (!written.ok) throw new Error(written.problem.message);
    return written.value;
  };
  const start = (text: string) => {
    const variables = variablesOf(points);
    const { program, problems } = compileProgram(text, variables);
    if (!program) throw new Error(problems.map(({ line, message }) => `${line} ${message}`).join('\n') + text);
    const at = (name: string) => variables.findIndex((variable) => variable.name === name);
    return {
      set: (name: string, value: unknown) => void (program.outer[at(name)] = value),
      get: (name: string) => program.outer[at(name)],
      run: (scans: number, silentMs = 0) => {
        for (let scan = 0; scan < scans; scan++)
          program.scan(50, { silentMs, isWritten: () => false, send: () => false, received: () => '' });
        expect(program.stopped).toBeNull();
      },
    };
  };

  it('writes lines that are sound, into nothing, and one after the other into what is there', () => {
    let text = '';
    for (const { id } of behaviours) {
      start(write('', id)).run(3);
      text = write(text, id);
    }
    start(text).run(3);
    for (const { name } of behaviours) expect(text).toContain(`(* ${name} *)`);
    expect(text.match(/END_VAR/g)?.length).toBe(1);
    start(write('PROGRAM P\nVAR CONSTANT n : INT := 1; END_VAR\nVAR_TEMP t : INT; END_VAR\n  t := n;\nEND_PROGRAM', 'count')).run(3);
  });

  it('writes lines as a person would', () => {
    expect(write('', 'count', { value: 'Beat' })).toBe(
      'PROGRAM Device\nVAR\n  beat_2 : TON;\nEND_VAR\n  (* Counts *)\n  beat_2(IN := TRUE, PT := T#1000ms);\n  IF beat_2.Q THEN\n    Beat := Beat + 1;\n    beat_2(IN := FALSE);\n    beat_2(IN := TRUE);\n  END_IF;\nEND_PROGRAM\n',
    );
    const both = write(write('', 'echo', { in: 'Beat', out: 'Echo' }), 'sine', { value: 'Speed', low: 10, high: 20, period: 4 });
    expect(both).toBe(
      'PROGRAM Device\n  (* Echoes what it gets, plus one *)\n  Echo := UINT_TO_DINT(Beat) + 1;\n\n  (* Moves like a sine *)\n  Speed := REAL_TO_UINT(150.0 + SINE(T#4000ms, 50.0));\nEND_PROGRAM\n',
    );
  });

  it('moves, counts, follows and ramps in the units of its points', () => {
    const sine = start(write('', 'sine', { value: 'Speed', low: 10, high: 20, period: 4 }));
    sine.run(21);
    expect(sine.get('Speed')).toBe(200);
    const ramp = start(write('', 'ramp', { value: 'Speed', goal: 'Set_point', rate: 5 }));
    // 10.00 in hundredths from −40: 5000.
    ramp.set('Set_point', 5000);
    ramp.run(21);
    expect(ramp.get('Speed')).toBe(50);
    ramp.run(40);
    expect(ramp.get('Speed')).toBe(100);
    const lag = start(write('', 'lag', { value: 'Flow', goal: 'Set_point', time: 1 }));
    lag.run(1);
    lag.set('Set_point', 14_000);
    lag.run(20);
    expect(Math.round(lag.get('Flow') as number)).toBe(-40 + Math.round(140 * (1 - Math.exp(-1))));
    const count = start(write('', 'count', { value: 'Beat' }));
    count.run(64);
    expect(count.get('Beat')).toBe(3);
  });

  it('is switched on, runs, trips in silence, and is reset', () => {
    const bits = {
      on: 'Command.0',
      run: 'Command.1',
      reset: 'Command.2',
      ready: 'Status.0',
      isOn: 'Status.1',
      running: 'Status.2',
      fault: 'Status.3',
    };
    const drive = start(write('', 'on-off', bits));
    drive.set('Command', 0b01);
    drive.run(1);
    drive.set('Command', 0b11);
    drive.run(1);
    expect(drive.get('Status')).toBe(0b0111);
    const trip = start(write('', 'trip', { fault: 'Status.3', reset: 'Command.2', after: 3 }));
    trip.run(1, 3100);
    expect(trip.get('Status')).toBe(0b1000);
    trip.set('Command', 0b100);
    trip.run(1);
    expect(trip.get('Status')).toBe(0);
  });

  it('counts by more than one and begins again, and goes on and off', () => {
    const count = start(write('', 'count', { value: 'Beat', by: 5, every: 0.1, top: 9 }));
    const seen: unknown[] = [];
    for (let turn = 0; turn < 8; turn++) {
      count.run(1);
      seen.push(count.get('Beat'));
    }
    expect([...new Set(seen)]).toEqual([0, 5]);
    const door = start(write('', 'switch', { value: 'Status.2', on: 0.1, off: 0.2 }));
    const states = Array.from({ length: 30 }, () => {
      door.run(1);
      return Number(door.get('Status')) & 4;
    });
    expect(states.filter((state) => state === 4).length).toBe(10);
  });

  it('writes values of every type as the language does', () => {
    const texts: [Type, unknown, string][] = [
      [stringType(9), "5 $ 'é€", "'5 $$ $'$E9?'"],
      [elementary('REAL'), Math.fround(61.6), '61.6'],
      [elementary('WORD'), 255, '16#FF'],
      [elementary('ULINT'), 18_446_744_073_709_551_615n, '18446744073709551615'],
      [elementary('LREAL'), 1e-7, '1.0E-7'],
      [elementary('BOOL'), true, 'TRUE'],
    ];
    for (const [type, value, text] of texts) expect(literalOf(type, value)).toBe(text);
  });

  it('obeys while it is released, and shows a text after a while', () => {
    const obeys = start(write('', 'release', { command: 'Set_point', result: 'Flow', release: 'Beat', when: 1 }));
    obeys.set('Set_point', 5000);
    obeys.run(1);
    expect(obeys.get('Flow')).toBe(0);
    obeys.set('Beat', 1);
    obeys.run(1);
    expect(obeys.get('Flow')).toBeCloseTo(10, 4);
    const display = start(write('', 'display', { text: 'Text', status: 'Beat', reply: 'Reply' }));
    display.set('Text', 'Batch');
    display.run(20);
    expect([display.get('Beat'), display.get('Reply')]).toEqual([0, '']);
    display.run(20);
    expect([display.get('Beat'), display.get('Reply')]).toEqual([1, 'Batch']);
  });

  it('says what is missing at its place, and where there is no place for lines', () => {
    const refused = (said: Record<string, string | number>, text = '') => {
      const written = writeBehaviour(text, behaviour('sine'), points, said);
      return written.ok ? null : [written.problem.message, ...written.problem.path];
    };
    expect(refused({})).toEqual(['Choose a point: what moves.', 'value']);
    expect(refused({ value: 'Speed', low: Number.NaN })).toEqual(['A number.', 'low']);
    expect(refused({ value: 'Speed', low: 0, high: 1, period: 0 })).toEqual(['More than 0 and at most a day of seconds.', 'period']);
    expect(refused({ value: 'Speed', low: 0, high: 1, period: 5 }, 'PROGRAM P')![0]).toContain('no PROGRAM that ends with END_PROGRAM');
    expect(choicesFor(points, 'bit').map(({ name, text }) => `${name} ${text}`)).toContain('Command: run Command.1');
    expect(choicesFor(points, 'text').map(({ text }) => text)).toEqual(['Text', 'Reply']);
  });
});
