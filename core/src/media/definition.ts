import type * as z from 'zod';

/** What every line has, and what every port has. */
export interface LineIds {
  id: string;
  projectId: string;
  name: string;
  note: string;
}

export interface PortIds {
  id: string;
  projectId: string;
  deviceId: string;
  lineId: string;
  position: number;
  setHow: string;
}

/** A column in which the members of a line stand beside each other. */
export interface MemberColumn<Port> {
  key: keyof Port & string;
  head: string;
  /** What a port shows there where it is not just the value; `clients` says how many connect to its device. */
  text?(port: Port, clients: number): string;
}

export type LineSchema = z.ZodObject<{ kind: z.ZodLiteral<string> }>;

/** Everything that is said about one kind of line and of the ports on it. */
export interface Medium<L extends LineSchema = LineSchema, P extends LineSchema = LineSchema, Line = z.infer<L>, Port = z.infer<P>> {
  /** What it is offered as. */
  label: string;
  line: L;
  port: P;
  /** Requests of Modbus go over it, so that it can be asked. */
  carriesModbus(line: Line): boolean;
  /** A new line, with the settings that are commonest. */
  blankLine(ids: LineIds): Line;
  /** A port for a device that joins the line at its end: set as the line is, with the next free unit ID or address. */
  blankPort(line: Line, here: readonly Port[], ids: PortIds, asks: boolean): Port;
  /** Why nobody can join any more; null while there is room. */
  whyFull(line: Line, here: readonly Port[], asks: boolean): string | null;
  /** What of a port belongs to its place and not to its device: a copy elsewhere keeps that of a blank port there. */
  ofPlace: readonly (keyof Port & string)[];
  /** What every port on it must be set to. */
  expected(line: Line): Partial<Port>;
  /** What the line is set to where it takes over what a port has; by default what both call the same. */
  takenFrom(line: Line, port: Port): Partial<Line>;
  columns: readonly MemberColumn<Port>[];
  /** What the line itself shows in such a column; null where it has nothing to do with it. */
  lineCell(line: Line, key: string): string | null;
  /** The line in a few words. */
  describeLine(line: Line): string;
  /** Where a device is found on it: its address, or its unit ID. */
  describePort(port: Port): string;
  /** How a port is set on its device. */
  describeSettings(port: Port): string;
}

export function defineMedium<L extends LineSchema, P extends LineSchema>(medium: Medium<L, P>): Medium<L, P> {
  return medium;
}
