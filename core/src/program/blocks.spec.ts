import { compileProgram } from './index.js';

/** What variables hold after each scan of 50 ms, with an input set before some of them. */
function trace(variables: string, body: string, input: readonly unknown[], read: readonly string[], scanMs = 50): unknown[][] {
  const { program, problems } = compileProgram(`PROGRAM Test VAR x : BOOL; y : BOOL; ${variables} END_VAR ${body} END_PROGRAM`);
  if (!program) throw new Error(problems[0]!.message);
  return input.map((value) => {
    program.write('x', value);
    program.scan(scanMs);
    return read.map((name) => {
      const found = program.read(name);
      return 'value' in found ? found.value : found.why;
    });
  });
}

/** The scans of a row of 0 and 1. */
const scans = (text: string) => [...text].map((sign) => sign === '1');
const onOff = (rows: unknown[][]) => rows.map(([value]) => (value ? '1' : '0')).join('');

describe('Timers, with time taken once a scan', () => {
  const timer = (type: string, input: string, ms = 100) => {
    const rows = trace(`t : ${type};`, `t(IN := x, PT := T#${ms}ms);`, scans(input), ['t.Q', 't.ET']);
    return [onOff(rows), rows.map(([, et]) => et)];
  };

  it('TON comes on after its time, counted from 0 in the scan of the edge', () => {
    expect(timer('TON', '0111101')).toEqual(['0001100', [0, 0, 50, 100, 100, 0, 0]]);
    expect(timer('TON', '110', 0)).toEqual(['110', [0, 0, 0]]);
  });

  it('TOF goes off after its time, and is off before it was ever on', () => {
    expect(timer('TOF', '0100010010')).toEqual(['0111011111', [0, 0, 0, 50, 100, 0, 0, 50, 0, 0]]);
    expect(timer('TOF', '00')).toEqual(['00', [0, 0]]);
  });

  it('TP is on for its time whatever the input does, and begins again only after that', () => {
    expect(timer('TP', '0101000110')).toEqual(['0110000110', [0, 0, 50, 100, 0, 0, 0, 0, 50, 0]]);
    expect(timer('TP', '01111')).toEqual(['01100', [0, 0, 50, 100, 100]]);
  });

  it('a timer that is not called in a scan still counts the time', () => {
    const rows = trace('t : TON; n : INT;', 'n := n + 1; IF n <> 2 THEN t(IN := TRUE, PT := T#1s); END_IF;', scans('1111'), ['t.ET']);
    expect(rows.map(([et]) => et)).toEqual([0, 0, 100, 150]);
  });
});

describe('Edges', () => {
  it('rise for one scan, also in the first, and fall for one scan, also in the first', () => {
    expect(onOff(trace('e : R_TRIG;', 'e(CLK := x);', scans('1011001'), ['e.Q']))).toBe('1010001');
    expect(onOff(trace('e : F_TRIG;', 'e(CLK := x);', scans('0110100'), ['e.Q']))).toBe('1001010');
  });
});

describe('Bistable blocks', () => {
  it('SR prefers to set, RS to reset', () => {
    const body = 's(S1 := x, R := y); r(S := x, R1 := y); y := NOT y;';
    // y: 0 1 0 1 0 1
    const rows = trace('s : SR; r : RS;', body, scans('010110'), ['s.Q1', 'r.Q1']);
    expect(onOff(rows.map(([sr]) => [sr]))).toBe('011110');
    expect(onOff(rows.map(([, rs]) => [rs]))).toBe('000010');
  });
});

describe('Counters', () => {
  const count = (type: string, call: string, input: string, read: string[], variables = '') =>
    trace(`c : ${type}; ${variables}`, call, scans(input), read);

  it('CTU counts edges up to its goal, and reset wins', () => {
    expect(
      count('CTU', 'c(CU := x, R := y, PV := 2); y := c.CV >= 3;', '0101010101', ['c.CV', 'c.Q']).map(
        ([cv, q]) => `${String(cv)}${q ? '!' : ''}`,
      ),
    ).toEqual(['0', '1', '1', '2!', '2!', '3!', '0', '1', '1', '2!']);
  });

  it('CTD counts down to zero from what it loads', () => {
    const rows = count('CTD', 'c(CD := x, LD := n = 0, PV := 2); n := n + 1;', '0101', ['c.CV', 'c.Q'], 'n : INT;');
    expect(rows).toEqual([
      [2, false],
      [1, false],
      [1, false],
      [0, true],
    ]);
  });

  it('CTUD counts both ways and stands where both come at once', () => {
    const body = 'c(CU := x, CD := n = 3 OR n = 5, R := FALSE, LD := FALSE, PV := 2); n := n + 1;';
    expect(count('CTUD', body, '0101010', ['c.CV', 'c.QU', 'c.QD'], 'n : INT;').map(([cv]) => cv)).toEqual([0, 1, 1, 1, 1, 1, 1]);
  });

  it('stay at the end of their range', () => {
    const rows = count(
      'CTU',
      'IF n = 0 THEN c(CU := FALSE, R := FALSE, PV := 5); c(CU := TRUE); END_IF; n := 1;',
      '1',
      ['c.CV'],
      'n : INT;',
    );
    expect(rows).toEqual([[1]]);
    const { program } = compileProgram(
      'PROGRAM P VAR c : CTU; i : DINT; END_VAR FOR i := 1 TO 33000 DO c(CU := TRUE); c(CU := FALSE); END_FOR; END_PROGRAM',
    );
    program!.scan(50);
    expect(program!.read('c.CV')).toEqual(jasmine.objectContaining({ value: 32_767 }));
    const wide = compileProgram('PROGRAM P VAR c : CTU_LINT; END_VAR c(CU := TRUE, PV := 1); END_PROGRAM').program!;
    wide.scan(50);
    expect([wide.read('c.CV'), wide.read('c.Q')].map((found) => 'value' in found && found.value)).toEqual(['1', true]);
  });
});

describe('What only stand-ins have', () => {
  const program = (body: string, outer = [{ name: 'Speed', type: { kind: 'elementary', name: 'UINT' } as const }]) => {
    const made = compileProgram(`PROGRAM P VAR r, s : REAL; b : BOOL; t : TIME; got : STRING; END_VAR ${body} END_PROGRAM`, outer);
    if (!made.program) throw new Error(made.problems[0]!.message);
    return made.program;
  };
  const real = (of: ReturnType<typeof program>, name: string) => (of.read(name) as { value: number }).value;

  it('LAG goes two thirds of the way in its time, RAMP goes straight, each with a memory of its own', () => {
    const lag = program('IF b THEN r := LAG(100.0, T#1s); ELSE r := LAG(0.0, T#1s); END_IF; s := RAMP(10.0, 4.0);');
    for (let scan = 0; scan < 21; scan++) lag.scan(50);
    expect(real(lag, 's')).toBeCloseTo(4, 3);
    const one = program('r := LAG(BOOL_TO_REAL(b) * 100.0, T#1s);');
    one.scan(50);
    one.write('b', true);
    for (let scan = 0; scan < 20; scan++) one.scan(50);
    expect(real(one, 'r')).toBeCloseTo(63.2, 1);
    const two = program('r := RAMP(5.0, 1.0); s := RAMP(-5.0, 2.0);');
    for (let scan = 0; scan < 21; scan++) two.scan(50);
    expect([real(two, 'r'), real(two, 's')].map((value) => Math.round(value * 100) / 100)).toEqual([1, -2]);
  });

  it('SINE repeats, NOISE stays within its amplitude and is the same at every start', () => {
    const waves = () => {
      const one = program('r := SINE(T#2s, 10.0); s := NOISE(3.0);');
      return Array.from({ length: 41 }, () => {
        one.scan(50);
        return [real(one, 'r'), real(one, 's')] as const;
      });
    };
    const rows = waves();
    expect([rows[0]![0], rows[10]![0], Math.round(rows[20]![0]), rows[30]![0]]).toEqual([0, 10, 0, -10]);
    expect(Math.max(...rows.map(([, noise]) => Math.abs(noise)))).toBeLessThanOrEqual(3);
    expect(new Set(rows.map(([, noise]) => noise)).size).toBeGreaterThan(35);
    expect(waves()).toEqual(rows);
  });

  it('SEND gives a text to the text port and says whether it was taken; RECEIVED takes what came', () => {
    const one = program("got := RECEIVED(); b := SEND(CONCAT('got ', got)); IF got = 'P$R' THEN SEND('42$R'); END_IF;");
    const sent: string[] = [];
    const texts = ['P\r', ''];
    const outside = {
      silentMs: 0,
      isWritten: () => false,
      send: (text: string) => sent.push(text) < 3,
      received: () => texts.shift() ?? '',
    };
    one.scan(50, outside);
    expect(sent).toEqual(['got P\r', '42\r']);
    one.scan(50, outside);
    expect(one.read('b')).toEqual(jasmine.objectContaining({ value: false }));
    one.scan(50);
    expect(one.read('got')).toEqual(jasmine.objectContaining({ value: '' }));
  });

  it('SILENT_FOR and WRITTEN tell of the master; points are variables without being declared', () => {
    const one = program('b := WRITTEN(Speed); t := SILENT_FOR(); Speed := Speed + 1;');
    one.outer[0] = 65_535;
    one.scan(50, { silentMs: 1200, isWritten: (index) => index === 0, send: () => false, received: () => '' });
    expect([one.read('b'), one.read('t')].map((found) => 'value' in found && found.value)).toEqual([true, 1200]);
    expect(one.outer[0]).toBe(0);
    one.scan(50);
    expect(one.read('b')).toEqual(jasmine.objectContaining({ value: false }));
  });

  it('say where they do not belong', () => {
    const problem = (text: string) =>
      compileProgram(text, [{ name: 'Speed', type: { kind: 'elementary', name: 'UINT' } }]).problems[0]?.message;
    expect(problem('FUNCTION F : REAL F := LAG(1.0, T#1s); END_FUNCTION PROGRAM P END_PROGRAM')).toContain('a function remembers nothing');
    expect(problem('PROGRAM P VAR x : INT; b : BOOL; END_VAR b := WRITTEN(x); END_PROGRAM')).toBe('WRITTEN takes a point of the device.');
    expect(problem('PROGRAM P VAR Speed : INT; END_VAR END_PROGRAM')).toBe('Speed is a point of the device already.');
  });
});
