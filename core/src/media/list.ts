import * as z from 'zod';
import { can } from './can.js';
import { cyclic } from './cyclic.js';
import type { LineSchema, Medium } from './definition.js';
import { ethernet } from './ethernet.js';
import { serial } from './serial.js';
import { telecontrol } from './telecontrol.js';

/** The kinds of lines, in the order in which they are offered. A new one is a file of its own and its name here. */
const media = [serial, ethernet, can, cyclic, telecontrol] as const;
type Media = typeof media;

/** One serial bus or one Ethernet network, with its settings and its cable; or a line of another kind that a converter joins. */
export const Line = z.discriminatedUnion('kind', linesOf(media));
export type Line = z.infer<Media[number]['line']>;

/** A device's connection to a line, as set on that device, so that a mismatch with the line can be seen. */
export const Port = z.discriminatedUnion('kind', portsOf(media));
export type Port = z.infer<Media[number]['port']>;

export type LineKind = Line['kind'];
export const lineKinds: readonly LineKind[] = media.map(({ line }) => line.shape.kind.value);

type AnyMedium = Medium<LineSchema, LineSchema, Line, Port>;
const byKind = new Map<string, AnyMedium>(media.map((medium) => [medium.line.shape.kind.value, medium as unknown as AnyMedium]));

/** All that is known of a kind of line; its functions take lines and ports of that kind. */
export function mediumOf(kind: LineKind): AnyMedium {
  return byKind.get(kind)!;
}

function linesOf<const List extends readonly { line: LineSchema }[]>(list: List): { -readonly [Key in keyof List]: List[Key]['line'] } {
  return list.map(({ line }) => line) as { -readonly [Key in keyof List]: List[Key]['line'] };
}

function portsOf<const List extends readonly { port: LineSchema }[]>(list: List): { -readonly [Key in keyof List]: List[Key]['port'] } {
  return list.map(({ port }) => port) as { -readonly [Key in keyof List]: List[Key]['port'] };
}
