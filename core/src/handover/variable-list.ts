import { formatAddress, isBitTable } from '../address/index.js';
import { directAddress } from '../format/index.js';
import type { Device, ListProfile, Point, ProjectDocument, Variable } from '../model/index.js';
import { programParts, wordsFromInput } from '../model/index.js';
import { nameAll } from '../names/index.js';
import { carryOf, variableType } from '../playing/index.js';
import { reservedWords, typeName } from '../program/index.js';
import { scaleText } from '../value/index.js';
import { literal } from './literal.js';

/** A point of a controller as a variable of its program. */
export interface ListedVariable {
  pointId: string;
  /** The name of the point, and that of the variable, with what was changed in it and why. */
  point: string;
  name: string;
  changed: string[];
  /** IEC 61131-3, section 6.4. */
  type: string;
  /** In the notation of its controller’s papers, and as the standard writes a direct address (6.5.5). */
  address: string;
  at: string;
  /** A literal of its type, empty where it begins as its type does; what was typed and why that is none, where it is none. */
  initial: string;
  wrong: string | null;
  retain: boolean;
  unit: string;
  /** Where its value comes from or goes to: `from Air-on transmitter 30011`. */
  source: string;
  /** What stands behind it in a list: its point in full, unit and scale, where its value comes from, and the first line of its note. */
  comment: string;
  /** The same without the name of the point. */
  remark: string;
}

export interface VariableList {
  controller: string;
  rows: ListedVariable[];
  /** Points that are wider than any variable. */
  leftOut: string[];
}

/** How a list is made where nobody has said otherwise. */
export const standardProfile: Omit<ListProfile, 'id' | 'projectId' | 'deviceIds'> = {
  name: 'Standard',
  ...{ maxLength: 40, allow: 'A-Za-z0-9_', case: 'as-is', reserved: [], prefix: '', byDevice: false },
  columns: ['name', 'address', 'type', 'initial', 'retain', 'comment'],
  ...{ separator: ';', head: true, encoding: 'utf-8', byteOrderMark: true },
  ...{ portable: false, scanMs: 10, parts: programParts.map(({ part }) => part) },
};
type Rules = Pick<ListProfile, 'maxLength' | 'allow' | 'case' | 'reserved' | 'prefix' | 'byDevice'>;

/** The profile that the list of a controller follows. */
export function profileFor(
  { listProfiles }: Pick<ProjectDocument, 'listProfiles'>,
  deviceId: string,
): ListProfile | typeof standardProfile {
  return listProfiles.find(({ deviceIds }) => deviceIds.includes(deviceId)) ?? standardProfile;
}

/** Devices whose points are variables of a program: controllers. */
export function controllersOf({ devices }: Pick<ProjectDocument, 'devices'>): Device[] {
  return devices.filter(({ kind }) => kind === 'controller');
}

/**
 * The points of a controller as variables, in the order of their places. A name that a person has given stays; all others follow the rules,
 * are each there once, and give way to those.
 */
export function variableList(
  document: ProjectDocument,
  controller: Device,
  rules: Rules = profileFor(document, controller.id),
): VariableList {
  const own = document.points
    .filter(({ deviceId }) => deviceId === controller.id)
    .sort((a, b) => a.table.localeCompare(b.table) || a.offset - b.offset || (a.bit ?? -1) - (b.bit ?? -1) || a.name.localeCompare(b.name));
  const listed = own.flatMap((point) => {
    const type = variableType(point);
    return type ? [{ point, type: typeName(type) }] : [];
  });
  const settings = new Map(document.variables.map((variable) => [variable.pointId, variable]));
  const ends = endsOf(document, new Set(own.map(({ id }) => id)));
  const given = listed.flatMap(({ point }) => settings.get(point.id)?.name ?? []);
  const free = listed.filter(({ point }) => !settings.get(point.id)?.name);
  const named = nameAll(
    free.map(({ point }) => wanted(point, rules, ends.get(point.id)?.[0]?.device)),
    { ...rules, reserved: [...reservedWords, ...rules.reserved, ...given], firstMustBeLetter: true },
  );
  const byRule = new Map(free.map(({ point }, index) => [point.id, named[index]!]));
  return {
    controller: controller.name,
    leftOut: own.filter((point) => !variableType(point)).map(({ name }) => name),
    rows: listed.map(({ point, type }): ListedVariable => {
      const setting = settings.get(point.id);
      const made = byRule.get(point.id);
      const source = (ends.get(point.id) ?? []).map(({ text }) => text).join('; ');
      return {
        ...{ pointId: point.id, point: point.name, type, unit: point.unit, source },
        name: made?.to ?? setting!.name!,
        changed: made ? made.changed : ['given by hand'],
        address: formatAddress(point, controller.notation, controller.areas),
        at: directAddress(point, controller.areas),
        ...begins(point, type, setting),
        retain: setting?.retain ?? false,
        ...commentOf(point, source),
      };
    }),
  };
}

function wanted({ name }: Point, { prefix, byDevice }: Rules, device: string | undefined): string {
  const isSaid = device === undefined || name.toLowerCase().startsWith(device.toLowerCase());
  return `${prefix}${byDevice && !isSaid ? `${device} ` : ''}${name}`;
}

function begins(point: Point, type: string, setting: Variable | undefined): Pick<ListedVariable, 'initial' | 'wrong'> {
  if (!setting || setting.initial.trim() === '') return { initial: '', wrong: null };
  const words = wordsFromInput(setting.initial, point);
  if (!words.ok) return { initial: '', wrong: words.problem.message };
  const value = point.type === 'bit' ? words.value[0] === 1 : carryOf(point).toProgram(words.value);
  return value === null
    ? { initial: '', wrong: `“${setting.initial}” is no value of ${type}.` }
    : { initial: literal(value, type), wrong: null };
}

function commentOf({ name, unit, scale, note }: Point, source: string): Pick<ListedVariable, 'comment' | 'remark'> {
  const factor = scaleText(scale);
  const measured = [unit, factor && `raw ${factor}`].filter(Boolean).join(', ');
  const more = [source, note.split('\n')[0]].filter(Boolean);
  const unitText = measured ? `[${measured}]` : '';
  return {
    comment: [[name, unitText].filter(Boolean).join(' '), ...more].join(', '),
    remark: [unitText, ...more].filter(Boolean).join(', '),
  };
}

/** The other ends of each of these points, those that it gets its value from first. */
function endsOf({ devices, points, routes }: ProjectDocument, own: ReadonlySet<string>): Map<string, { device: string; text: string }[]> {
  const byId = new Map(points.map((point) => [point.id, point]));
  const device = new Map(devices.map((row) => [row.id, row]));
  const found = new Map<string, { device: string; text: string }[]>();
  const add = (id: string, otherId: string, word: 'from' | 'to') => {
    const other = byId.get(otherId);
    const owner = device.get(other?.deviceId ?? '');
    if (!own.has(id) || !other || !owner) return;
    const text = `${word} ${owner.name} ${isBitTable(other.table) || other.place.kind === 'register' ? formatAddress(other, owner.notation, owner.areas) : other.name}`;
    found.set(id, [...(found.get(id) ?? []), { device: owner.name, text }]);
  };
  for (const { sourceId, destinationId } of routes) add(destinationId, sourceId, 'from');
  for (const { sourceId, destinationId } of routes) add(sourceId, destinationId, 'to');
  return found;
}
