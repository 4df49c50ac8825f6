import { compileProgram } from './index.js';
import { run, valueOf, wrong } from './run.spec-helper.js';

/** What a variable holds after these statements. */
const after = (name: string, variables: string, body: string, scans = 1, before = '') => valueOf(run(variables, body, scans, before), name);

describe('Choosing', () => {
  it('IF takes the first branch that holds', () => {
    const grade = (value: number) =>
      after(
        'g',
        `v : INT := ${value}; g : INT;`,
        'IF v > 100 THEN g := 3; ELSIF v > 10 THEN g := 2; ELSIF v > 1 THEN g := 1; ELSE g := 0; END_IF;',
      );
    expect([500, 50, 5, 0].map(grade)).toEqual([3, 2, 1, 0]);
  });

  it('CASE takes single labels, lists, ranges and ELSE', () => {
    const chosen = (value: number) =>
      after(
        'g',
        `v : INT := ${value}; g : INT;`,
        'CASE v OF 1: g := 10; 2, 4: g := 20; 5..9, 20: g := 30; -3: g := 40; ELSE g := 99; END_CASE;',
      );
    expect([1, 2, 4, 3, 5, 9, 20, -3, 10].map(chosen)).toEqual([10, 20, 20, 99, 30, 30, 30, 40, 99]);
  });

  it('CASE chooses by enumerated values, whether by name alone or with the type', () => {
    const types = 'TYPE State : (Idle, Runs := 5, Fault); END_TYPE';
    const body = 'CASE s OF Idle: g := 1; State#Runs: g := 2; State.Fault: g := 3; END_CASE;';
    expect(['Idle', 'Runs', 'Fault'].map((state) => after('g', `s : State := ${state}; g : INT;`, body, 1, types))).toEqual([1, 2, 3]);
    expect(after('s', 's : State := Fault;', ';', 1, types)).toBe('Fault');
    expect(after('n', 's : State := Fault; n : INT;', 'n := TO_INT(s);', 1, types)).toBe(6);
  });
});

describe('Loops', () => {
  it('FOR counts up and down by steps, and its ends are worked out once', () => {
    expect(after('n', 'i, n : INT;', 'FOR i := 1 TO 5 DO n := n * 10 + i; END_FOR;')).toBe(12_345);
    expect(after('n', 'i : INT; n : DINT;', 'FOR i := 5 TO 1 BY -2 DO n := n * 10 + i; END_FOR;')).toBe(531);
    expect(after('n', 'i, n : INT;', 'FOR i := 5 TO 1 DO n := 1; END_FOR;')).toBe(0);
    expect(after('n', 'i, n : INT; e : INT := 3;', 'FOR i := 1 TO e DO e := 10; n := n + 1; END_FOR;')).toBe(3);
    expect(after('i', 'i : INT;', 'FOR i := 1 TO 3 DO ; END_FOR;')).toBe(4);
  });

  it('FOR ends at the end of its type', () => {
    expect(after('n', 'i : SINT; n : INT;', 'FOR i := 120 TO 127 DO n := n + 1; END_FOR;')).toBe(8);
    expect(after('n', 'i : USINT; n : INT;', 'FOR i := 3 TO 0 BY -1 DO n := n + 1; END_FOR;')).toBe(4);
    expect(after('n', 'i : LINT; n : INT;', 'FOR i := 9223372036854775806 TO 9223372036854775807 DO n := n + 1; END_FOR;')).toBe(2);
  });

  it('WHILE looks before, REPEAT after', () => {
    expect(after('n', 'n : INT := 10;', 'WHILE n < 10 DO n := n + 1; END_WHILE;')).toBe(10);
    expect(after('n', 'n : INT := 10;', 'REPEAT n := n + 1; UNTIL n >= 10 END_REPEAT;')).toBe(11);
    expect(after('n', 'n : INT;', 'WHILE n < 7 DO n := n + 3; END_WHILE;')).toBe(9);
  });

  it('EXIT leaves the inner loop, CONTINUE goes on with its next round, RETURN leaves the program', () => {
    const body = `FOR i := 1 TO 3 DO
      FOR j := 1 TO 5 DO IF j = 2 THEN CONTINUE; END_IF; IF j = 4 THEN EXIT; END_IF; n := n * 10 + j; END_FOR;
    END_FOR;`;
    expect(after('n', 'i, j : INT; n : DINT;', body)).toBe(131_313);
    expect(after('n', 'n : INT;', 'n := 1; IF n = 1 THEN RETURN; END_IF; n := 2;')).toBe(1);
    expect(after('n', 'n : INT;', 'REPEAT n := n + 1; IF n = 3 THEN EXIT; END_IF; UNTIL FALSE END_REPEAT;')).toBe(3);
    expect(after('n', 'n : INT;', 'WHILE TRUE DO n := n + 1; IF n < 5 THEN CONTINUE; END_IF; RETURN; END_WHILE;')).toBe(5);
  });
});

describe('Variables', () => {
  it('keep what they hold from scan to scan, and begin as they say', () => {
    expect(after('n', 'n : INT := 5;', 'n := n + 1;', 4)).toBe(9);
    expect(after('b', 'a, b : REAL := 1.5;', ';')).toBe(1.5);
    expect(after('a', 'a AT %MW10 : WORD := 16#10;', ';')).toBe(16);
  });

  it('have bits that are written one by one', () => {
    expect(after('w', 'w : WORD;', 'w.0 := TRUE; w.15 := TRUE; w.%B0 := 16#F0;')).toBe(0x80f0);
    expect(after('w', 'w : LWORD;', 'w.63 := TRUE; w.0 := TRUE;')).toBe('9223372036854775809');
    expect(after('i', 'i : INT;', 'i.15 := TRUE;')).toBe(-32_768);
  });

  it('are arrays of any bounds and dimensions, also of structures', () => {
    expect(after('a', 'a : ARRAY[1..3] OF INT := [1, 2]; i : INT;', 'a[3] := a[1] + a[2];')).toEqual([1, 2, 3]);
    expect(after('a', 'a : ARRAY[0..4] OF INT := [2(7), 3(1)];', ';')).toEqual([7, 7, 1, 1, 1]);
    expect(
      after(
        'n',
        'a : ARRAY[-1..1, 0..2] OF INT; i, j, n : INT;',
        'FOR i := -1 TO 1 DO FOR j := 0 TO 2 DO a[i, j] := i * 10 + j; END_FOR; END_FOR; n := a[-1][2];',
      ),
    ).toBe(-8);
    const types = 'TYPE Pair : STRUCT x : INT := 3; y : REAL; END_STRUCT; END_TYPE';
    const body = 'a[2].x := 7; a[1] := a[2]; a[2].x := 9; p := a[1];';
    const program = run('a : ARRAY[1..2] OF Pair; p : Pair := (y := 2.5);', body, 1, types);
    expect(valueOf(program, 'a')).toEqual([
      { x: 7, y: 0 },
      { x: 9, y: 0 },
    ]);
    expect(valueOf(program, 'p')).toEqual({ x: 7, y: 0 });
    expect(valueOf(program, 'a[2].x')).toBe(9);
  });

  it('are global, external and constant', () => {
    const before = 'VAR_GLOBAL Total : INT := 5; END_VAR VAR_GLOBAL CONSTANT Step : INT := 3; END_VAR';
    const text = `${before} PROGRAM Main VAR_EXTERNAL Total : INT; END_VAR VAR a : ARRAY[0..Step] OF INT; END_VAR Total := Total + Step; END_PROGRAM`;
    const { program } = compileProgram(text);
    program!.scan(50);
    expect([valueOf(program!, 'Total'), valueOf(program!, 'a')]).toEqual([8, [0, 0, 0, 0]]);
  });

  it('hold as much text as they say', () => {
    expect(after('s', "s : STRING[3]; t : STRING := 'abcdef';", 's := t;')).toBe('abc');
  });
});

describe('Functions and blocks of the text', () => {
  const square = 'FUNCTION Square : INT VAR_INPUT x : INT; END_VAR VAR n : INT; END_VAR n := n + 1; Square := x * x + n - 1; END_FUNCTION';
  const counting = `FUNCTION_BLOCK Counting
    VAR_INPUT up : BOOL; END_VAR VAR_OUTPUT n : INT; END_VAR VAR edge : R_TRIG; END_VAR
    edge(CLK := up); IF edge.Q THEN n := n + 1; END_IF;
    END_FUNCTION_BLOCK`;

  it('a function begins anew at each call', () => {
    expect(after('n', 'n : INT;', 'n := Square(3) + Square(x := 4);', 3, square)).toBe(25);
  });

  it('a function changes what is lent to it, and gives more than one value', () => {
    const swap =
      'FUNCTION Swap VAR_IN_OUT a, b : INT; END_VAR VAR_OUTPUT sum : INT; END_VAR VAR t : INT; END_VAR t := a; a := b; b := t; sum := a + b; END_FUNCTION';
    const program = run('x : INT := 1; y : ARRAY[1..2] OF INT := [5, 6]; s : DINT;', 'Swap(a := x, b := y[2], sum => s);', 1, swap);
    expect(['x', 'y', 's'].map((name) => valueOf(program, name))).toEqual([6, [5, 1], 7]);
  });

  it('each instance of a block has a memory of its own, also one within another', () => {
    const outer = `${counting}
      FUNCTION_BLOCK Two VAR_INPUT a, b : BOOL; END_VAR VAR_OUTPUT both : INT; END_VAR VAR one, other : Counting; END_VAR
      one(up := a); other(up := b); both := one.n * 10 + other.n; END_FUNCTION_BLOCK`;
    const program = run(
      't : Two; u : Two; toggle : BOOL;',
      'toggle := NOT toggle; t(a := toggle, b := TRUE); u(a := FALSE, b := toggle);',
      6,
      outer,
    );
    expect([valueOf(program, 't.both'), valueOf(program, 'u.both')]).toEqual([31, 3]);
  });

  it('a block keeps inputs that are not given again, and gives outputs by =>', () => {
    expect(after('n', 'c : Counting; n : INT; toggle : BOOL;', 'toggle := NOT toggle; c.up := toggle; c(n => n);', 4, counting)).toBe(2);
  });

  it('VAR_TEMP begins anew in each scan', () => {
    const { program } = compileProgram('PROGRAM P VAR n : INT; END_VAR VAR_TEMP t : INT := 2; END_VAR t := t + 1; n := t; END_PROGRAM');
    program!.scan(50);
    program!.scan(50);
    expect(valueOf(program!, 'n')).toBe(3);
  });

  it('a text may have remarks within remarks, pragmas, and words in any case', () => {
    const text = '(* a (* b *) c *) {pragma} // end\nprogram P var N : int; end_var /* d */ n := 5; End_Program';
    const { program } = compileProgram(text);
    program!.scan(0);
    expect(valueOf(program!, 'n')).toBe(5);
  });
});

describe('What is wrong is said in its place', () => {
  const cases: readonly [variables: string, body: string, ...expected: string[]][] = [
    ['a : INT;', 'a = 5;', '1:3 “=” compares. A value is given with “:=”.'],
    ['a : INT;', 'a := 5', '1:7 Expected “;” here, but there is “END_PROGRAM”.'],
    ['a : INT;', 'IF a > 1 THEN a := 2; END_I;', '1:28 “END_I” is no statement. Did you mean END_IF?'],
    ['speed : INT;', 'sped := 5;', '1:1 There is no variable sped. Did you mean speed?'],
    ['a : INT;', 'a := SQUERT(2.0);', '1:6 There is no function SQUERT. Did you mean SQRT?'],
    ['a : INTT;', 'a := 1;', '0:22 There is no type INTT. Did you mean INT?'],
    ['a : INT; b : DINT;', 'a := b;', '1:6 DINT does not become INT by itself. Write DINT_TO_INT(…).'],
    ['a : INT;', 'a := 40000;', '1:6 40000 does not fit into INT, which holds -32768 to 32767.'],
    ['a : INT;', 'a := 1.5;', '1:6 1.5 has a fraction or an exponent; INT holds whole numbers.'],
    ['a : UINT; b : INT;', 'a := b;', '1:6 INT does not become UINT by itself. Write INT_TO_UINT(…).'],
    ['a : WORD; b : INT;', 'b := a;', '1:6 WORD is bits, and INT is a number. Write WORD_TO_INT(…).'],
    ['a : INT;', 'IF a THEN a := 1; END_IF;', '1:4 A condition is BOOL, not INT.'],
    ['a : TIME;', 'a := 500;', '1:6 TIME takes no number as it is. Write a time like T#500ms.'],
    ['a : INT;', 'EXIT;', '1:1 EXIT stands in a loop.'],
    ['a : ARRAY[1..3] OF INT;', 'a[4] := 1;', '1:3 Element 4 is outside of 1 to 3.'],
    ['a : WORD;', 'a.16 := TRUE;', '1:3 WORD has no part 16 of this size; they are 0 to 15.'],
    ['t : TON;', 't.Q := TRUE;', '1:1 Q is an output, which only its block writes.'],
    ['t : TON;', 't(INN := TRUE);', '1:3 TON has no input INN. Did you mean IN?'],
    ['t : TON; q : BOOL;', 't(Q := q);', '1:3 Q is an output of TON: take it with =>.'],
    ['a : INT;', 'SIN(1.0);', '1:1 SIN gives a value, which is put nowhere. Write … := SIN(…).'],
    ['a : REAL;', 'a := LIMIT(1.0, a);', '1:6 LIMIT takes 3 arguments, not 2.'],
    ['a : INT;', 'CASE a OF 1: ; 1..3: ; END_CASE;', '1:16 1 is a label already.'],
    ['a : INT; A : BOOL;', ';', '0:27 There is a variable A already.'],
    ['a : INT;', "a := 'x;", "1:6 This text has no end: ' is missing on its line."],
    ['a : INT;', 'a := (* 5;', '1:6 This remark has no end.'],
    [
      'a : INT; b : LINT; c : REAL;',
      'IF b > c THEN ; END_IF;',
      '1:6 LINT and REAL are not compared with each other; convert one of them first.',
    ],
    [
      'a : INT;',
      'b := 1;\na := 2.5;\nc := 3;',
      '1:1 There is no variable b.',
      '2:6 2.5 has a fraction or an exponent; INT holds whole numbers.',
      '3:1 There is no variable c.',
    ],
    ['a : REAL := 1 / 0;', ';', '0:32 Division by zero.'],
    ['a : STRING;', 'a := "x";', '1:6 Texts stand between \' and \', not between " and ".'],
    ['a : ARRAY[1..1000000] OF INT;', ';', '0:22 This array has 1,000,000 elements; a program holds at most 100,000.'],
  ];
  for (const [variables, body, ...expected] of cases) {
    it(`${variables} ${body}`, () => {
      expect(wrong(variables, body)).toEqual(expected);
    });
  }

  it('also between units: what calls or contains itself, and what is there twice', () => {
    expect(wrong('a : INT;', 'a := F(1);', 'FUNCTION F : INT VAR_INPUT n : INT; END_VAR F := F(n); END_FUNCTION ')).toEqual([
      '0:50 F calls itself.',
    ]);
    const round = 'FUNCTION F : INT F := G(); END_FUNCTION FUNCTION G : INT G := F(); END_FUNCTION ';
    expect(wrong('', ';', round)[0]).toContain('calls itself by way of');
    expect(wrong('b : B;', 'b();', 'FUNCTION_BLOCK B VAR inner : B; END_VAR END_FUNCTION_BLOCK ')).toEqual(['0:16 B contains itself.']);
    expect(wrong('', ';', 'TYPE T : STRUCT t : T; END_STRUCT; END_TYPE ')).toEqual(['0:6 T contains itself.']);
    expect(wrong('', ';', 'FUNCTION SIN : REAL END_FUNCTION ')).toEqual(['0:10 There is SIN already.']);
    expect(compileProgram('FUNCTION F : INT F := 1; END_FUNCTION').problems[0]?.message).toBe('There is no PROGRAM in this text.');
    expect(compileProgram('PROGRAM A END_PROGRAM PROGRAM B END_PROGRAM').problems[0]?.message).toBe('There is a program already: A.');
    expect(compileProgram('PROGRM A END_PROGRAM').problems[0]?.message).toContain('Did you mean PROGRAM?');
  });
});

describe('What would not end is stopped', () => {
  it('a loop without an end, in its line', () => {
    const program = run('n : DINT;', '\nn := 1;\nWHILE TRUE DO\nn := n + 1;\nEND_WHILE;', 3);
    expect(program.stopped?.message).toBe('It does more than 200,000 steps in one scan and was stopped here.');
    expect([program.stopped?.scan, program.scans]).toEqual([1, 1]);
    expect([5, 6]).toContain(program.stopped!.line);
  });

  it('an element that is not there, in its line and scan', () => {
    const program = run('a : ARRAY[1..3] OF INT; i : INT;', 'i := i + 1;\na[i] := i;', 10);
    expect(program.stopped).toEqual({ line: 5, column: 3, message: 'Element 4 is outside of 1 to 3.', scan: 4 });
    expect(valueOf(program, 'a')).toEqual([1, 2, 3]);
  });

  it('a text that is too long, too deep or has too much in it, at once', () => {
    const deep = `${'('.repeat(100)}1${')'.repeat(100)}`;
    expect(wrong('a : INT;', `a := ${deep};`)[0]).toContain('More than 60 brackets or statements');
    expect(wrong('a : INT;', `a := ${'-'.repeat(100)}1;`)[0]).toContain('More than 60');
    expect(wrong('a : INT;', `a := 1${' + 1'.repeat(600)};`)[0]).toContain('More than 500 operators');
    expect(wrong('', ';'.repeat(70_000))[0]).toContain('A program has at most 60,000 characters');
    const doubled = Array.from({ length: 40 }, (_, index) => `t${index} : STRUCT a, b : t${index + 1}; END_STRUCT;`).join(' ');
    expect(wrong('a : t0;', ';', `TYPE ${doubled} t40 : INT; END_TYPE `)[0]).toContain('elements; a program holds at most 100,000');
    const chain = Array.from({ length: 1000 }, (_, index) => `FUNCTION f${index} : INT f${index} := f${index + 1}(); END_FUNCTION `).join(
      '',
    );
    const { program, problems } = compileProgram(
      `${chain} FUNCTION f1000 : INT f1000 := 1; END_FUNCTION PROGRAM P VAR n : INT; END_VAR n := f0(); END_PROGRAM`,
    );
    program?.scan(50);
    expect(program ? (program.stopped?.message ?? valueOf(program, 'n')) : problems[0]?.message).toMatch(/^1$|too deep/);
  });
});
