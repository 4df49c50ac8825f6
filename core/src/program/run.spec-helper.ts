import { compileProgram, type Program } from './index.js';

/** Runs statements in a program with these variables, and gives what they hold after so many scans of 50 ms. */
export function run(variables: string, body: string, scans = 1, before = ''): Program {
  const { program, problems } = compileProgram(`${before}\nPROGRAM Test\nVAR ${variables} END_VAR\n${body}\nEND_PROGRAM`);
  if (!program) throw new Error(problems.map(({ line, column, message }) => `${line}:${column} ${message}`).join('\n'));
  for (let scan = 0; scan < scans; scan++) program.scan(50);
  return program;
}

export function valueOf(program: Program, name: string): unknown {
  const found = program.read(name);
  return 'value' in found ? found.value : found.why;
}

/** What an expression is worth as a type; `variables` may be used in it. */
export function worth(type: string, expression: string, variables = '', before = ''): unknown {
  const program = run(`${variables} result : ${type};`, `result := ${expression};`, 1, before);
  return program.stopped ? `stopped: ${program.stopped.message}` : valueOf(program, 'result');
}

/** What is wrong with statements, as `line:column message`; lines are counted from the first statement. */
export function wrong(variables: string, body: string, before = ''): string[] {
  const head = `${before}PROGRAM Test VAR ${variables} END_VAR\n`;
  const above = head.split('\n').length - 1;
  return compileProgram(`${head}${body}\nEND_PROGRAM`).problems.map(({ line, column, message }) => `${line - above}:${column} ${message}`);
}
