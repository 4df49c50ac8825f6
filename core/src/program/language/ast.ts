import type { At } from './problem.js';

/** What a text declares, as it was parsed: nothing is known of its types yet. */
export interface Source {
  types: TypeDeclaration[];
  globals: VariableBlock[];
  units: Unit[];
}

/** A program, a function or a function block. */
export interface Unit {
  kind: 'program' | 'function' | 'block';
  name: Name;
  /** Of a function. */
  result: TypeText | null;
  variables: VariableBlock[];
  body: Statement[];
}

export interface Name {
  text: string;
  at: At;
}

export interface TypeDeclaration {
  name: Name;
  type: TypeText;
  initial: Initial | null;
}

export type TypeText =
  | { kind: 'named'; name: Name }
  | { kind: 'string'; length: Expression | null; at: At }
  | { kind: 'array'; bounds: { low: Expression; high: Expression }[]; of: TypeText; at: At }
  | { kind: 'struct'; fields: VariableDeclaration[]; at: At }
  | { kind: 'enum'; values: { name: Name; value: Expression | null }[]; at: At };

export const sections = ['VAR', 'VAR_INPUT', 'VAR_OUTPUT', 'VAR_IN_OUT', 'VAR_GLOBAL', 'VAR_EXTERNAL', 'VAR_TEMP'] as const;
export type Section = (typeof sections)[number];

export interface VariableBlock {
  section: Section;
  isConstant: boolean;
  isRetained: boolean;
  variables: VariableDeclaration[];
}

export interface VariableDeclaration {
  names: Name[];
  /** Where it lies in a controller, like %MW10. */
  place: string | null;
  type: TypeText;
  initial: Initial | null;
}

/** What a variable begins with. */
export type Initial =
  | { kind: 'value'; value: Expression; at: At }
  | { kind: 'list'; items: { times: Expression | null; value: Initial }[]; at: At }
  | { kind: 'fields'; fields: { name: Name; value: Initial }[]; at: At };

export type Expression =
  | { kind: 'whole'; value: bigint; at: At }
  | { kind: 'real'; value: number; at: At }
  | { kind: 'bool'; value: boolean; at: At }
  | { kind: 'text'; value: string; at: At }
  | { kind: 'time'; ms: number; at: At }
  /** `INT#5`, `Color#Red` */
  | { kind: 'typed'; type: Name; value: Expression; at: At }
  | { kind: 'variable'; variable: VariableText; at: At }
  | { kind: 'call'; name: Name; arguments: Argument[]; at: At }
  | { kind: 'unary'; operator: '-' | '+' | 'NOT'; operand: Expression; at: At }
  | { kind: 'binary'; operator: BinaryOperator; left: Expression; right: Expression; at: At };

export type BinaryOperator = '**' | '*' | '/' | 'MOD' | '+' | '-' | '<' | '>' | '<=' | '>=' | '=' | '<>' | 'AND' | 'XOR' | 'OR';

/** `a.b[3].5` */
export interface VariableText {
  name: Name;
  path: PathStep[];
}

export type PathStep =
  | { kind: 'field'; name: Name }
  | { kind: 'index'; index: Expression; at: At }
  | { kind: 'part'; size: 'X' | 'B' | 'W' | 'D'; number: number; at: At };

export interface Argument {
  /** Null for one that is given by its place. */
  name: Name | null;
  /** `=>`: what the callee gives is put there. */
  out: boolean;
  value: Expression | null;
}

export type Statement =
  | { kind: 'assign'; to: VariableText; value: Expression; at: At }
  | { kind: 'call'; callee: VariableText; arguments: Argument[]; at: At }
  | { kind: 'if'; branches: { condition: Expression; then: Statement[] }[]; otherwise: Statement[]; at: At }
  | { kind: 'case'; of: Expression; branches: { labels: CaseLabel[]; then: Statement[] }[]; otherwise: Statement[]; at: At }
  | { kind: 'for'; variable: VariableText; from: Expression; to: Expression; by: Expression | null; body: Statement[]; at: At }
  | { kind: 'while'; condition: Expression; body: Statement[]; at: At }
  | { kind: 'repeat'; body: Statement[]; until: Expression; at: At }
  | { kind: 'leave'; by: 'EXIT' | 'CONTINUE' | 'RETURN'; at: At };

export interface CaseLabel {
  from: Expression;
  to: Expression | null;
}
