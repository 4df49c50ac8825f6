import type { Section } from './ast.js';
import type { InstanceType, Type } from './types.js';
import type { Machine } from './machine.js';

/** A variable of a program, a function or a block, with its place among them. */
export interface Variable {
  name: string;
  type: Type;
  section: Section;
  isConstant: boolean;
  isRetained: boolean;
  /** Where it lies in a controller, like %MW10. */
  place: string | null;
  /** Makes what it begins with. */
  first: () => unknown;
  /** Whether it is seen from outside: inputs, outputs, and all of a program. */
  isShown: boolean;
}

/** A function block: its variables in the order of their places, and what it does when it is called. */
export interface BlockType {
  name: string;
  /** The type of its instances. */
  type: InstanceType;
  variables: Variable[];
  make(): unknown[];
  /** Set once its statements are compiled. */
  run(slots: unknown[], machine: Machine): void;
}

/** A block whose type refers back to it. */
export function blockOf(parts: Omit<BlockType, 'type'>): BlockType {
  const block = parts as BlockType;
  block.type = { kind: 'block', block };
  return block;
}
