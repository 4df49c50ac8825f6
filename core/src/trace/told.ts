import type { Table } from '../address/index.js';
import type { FrameField } from '../frame/index.js';
import type { Device, Point } from '../model/index.js';

/** The registers or bits that a question is about. */
export interface RegisterSpan {
  table: Table;
  offset: number;
  count: number;
}

/** A point that an exchange read or wrote, with what it held. */
export interface SeenPoint {
  point: Point;
  value: string;
}

/** What the bytes of a field are about. */
export type FieldKind = 'head' | 'unit' | 'function' | 'place' | 'amount' | 'data' | 'check' | 'wrong';

/** What went one way, every byte of it in a field. */
export interface ToldFrame {
  name: string;
  fields: (FrameField & { kind: FieldKind })[];
  problems: string[];
}

/** An exchange in the words of the project. */
export interface ToldExchange {
  device: Device | null;
  who: string;
  sentence: string;
  /** It is not as it should be. */
  isTrouble: boolean;
  span: RegisterSpan | null;
  /** What it carried; worked out when it is asked for, since an exchange may carry a hundred. */
  points(): SeenPoint[];
  frames(): ToldFrame[];
}
