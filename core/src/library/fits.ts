import type { Table } from '../address/index.js';
import { type DeviceTemplate, type Point, pointWidth } from '../model/index.js';

/** A value at a place of a device, as it was heard of: what it is was guessed. */
export type HeardPlace = Pick<Point, 'table' | 'offset' | 'bit' | 'type' | 'length'>;

/** How well a map fits to what was heard of a device. */
export interface Fit {
  /** Registers or bits that were heard of, and how many of them are in the map. */
  of: number;
  inMap: number;
  /** Values that begin where a point of the map does and are as wide. */
  alike: number;
}

/** A register map, whatever else is known of its device. */
export type MapOf = Pick<DeviceTemplate, 'points'>;

/** So few registers tell of no device. */
const FEWEST = 3;
/** This share of what was heard of has to be in the map, and this share of values has to begin where its points do. */
const IN_MAP = 0.9;
const ALIKE = 0.5;

/** Lays a map beside what was heard of a device. */
export function fitOf({ points }: MapOf, heard: readonly HeardPlace[]): Fit {
  const cells = new Set(points.flatMap(cellsOf));
  const starts = new Set(points.map(startOf));
  const own = [...new Set(heard.flatMap(cellsOf))];
  return {
    of: own.length,
    inMap: own.filter((cell) => cells.has(cell)).length,
    alike: heard.filter((place) => starts.has(startOf(place))).length,
  };
}

/** Whether that is enough to take the one for the other. */
export function fits({ of, inMap, alike }: Fit, heard: readonly HeardPlace[]): boolean {
  return of >= FEWEST && inMap >= IN_MAP * of && alike >= ALIKE * heard.length;
}

/** The map that fits best: the most values alike, and of those the shortest; null where none fits. */
export function bestFit<Kept extends MapOf>(kept: readonly Kept[], heard: readonly HeardPlace[]): Kept | null {
  const fitting = kept.map((one) => ({ one, fit: fitOf(one, heard) })).filter(({ fit }) => fits(fit, heard));
  fitting.sort((a, b) => b.fit.alike - a.fit.alike || a.one.points.length - b.one.points.length);
  return fitting[0]?.one ?? null;
}

/** The point of a map that begins where a value was heard and is as wide; undefined where none is. */
export function pointAt({ points }: MapOf, place: HeardPlace): MapOf['points'][number] | undefined {
  return points.find((point) => startOf(point) === startOf(place));
}

/** The registers or bits that a point takes, each by its table and offset. */
export function cellsOf(place: Pick<HeardPlace, 'table' | 'offset' | 'type' | 'length'>): string[] {
  return Array.from({ length: pointWidth(place) }, (_, index) => cellOf(place.table, place.offset + index));
}

export function cellOf(table: Table, offset: number): string {
  return `${table} ${offset}`;
}

function startOf(place: HeardPlace): string {
  return `${cellOf(place.table, place.offset)} ${place.bit ?? ''} ${pointWidth(place)}`;
}
