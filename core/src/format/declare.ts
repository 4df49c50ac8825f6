import { type Area, formatAddress, readAddress, type Table } from '../address/index.js';
import { type Point, PointBody } from '../model/index.js';
import { readIecName, typeOf } from '../types/index.js';
import { bad, good, type Outcome, schemaProblem } from '../outcome/index.js';

/** A variable of a controller as IEC 61131-3 declares it (2.4): a name, a direct address, a type and a comment. */
export interface Variable {
  name: string;
  /** `%MW40`, `%QX3`, or a name of one of the controller's areas with or without the percent sign. */
  address: string | null;
  type: string;
  comment: string;
  /** A literal of its type; empty or left out where it begins as its type does. */
  initial?: string;
  /** It keeps its value when the controller is switched off. */
  retain?: boolean;
}

/** Where a place has no area: inputs, outputs and memory as the standard's location letters have them. */
const location: Record<Table, string> = { coil: '%QX', discrete: '%IX', input: '%IW', holding: '%MW' };

/** The variables of a device, each with a name of its own. */
export function declareVariables(points: readonly Point[], areas: readonly Area[]): Variable[] {
  const taken = new Set<string>();
  return points.map((point) => declareVariable(point, areas, taken));
}

/** Where a point lies as the standard writes a direct address, by the controller’s areas where it has such: `%MW40`, `%QX3`. */
export function directAddress({ table, offset, bit }: Pick<Point, 'table' | 'offset' | 'bit'>, areas: readonly Area[]): string {
  const inArea = formatAddress({ table, offset, bit }, 'area', areas);
  const whole = `${location[table]}${offset}`;
  if (/^[A-Za-z_%]/.test(inArea)) return `%${inArea.replace(/^%/, '')}`;
  return bit === null ? whole : `${whole}.${bit}`;
}

/** A point as a declaration; the name becomes an identifier, the full one stands in the comment where it differs. */
function declareVariable(point: Point, areas: readonly Area[], taken: Set<string>): Variable {
  const { type, length, note, name } = point;
  const identifier = identifierOf(name, taken);
  const address = directAddress(point, areas);
  const iec = typeOf(type).iec.declare(length ?? 1);
  return { name: identifier, address, type: iec, comment: [identifier === name ? '' : name, note].filter(Boolean).join('\n') };
}

export function identifierOf(name: string, taken: Set<string>): string {
  const plain =
    name
      .normalize('NFD')
      .replace(/\p{M}/gu, '')
      .replace(/[^A-Za-z0-9]+/g, '_')
      .replace(/^_|_$/g, '') || 'Point';
  const stem = /^\d/.test(plain) ? `P_${plain}` : plain;
  let identifier = stem;
  for (let number = 2; taken.has(identifier.toLowerCase()); number++) identifier = `${stem}_${number}`;
  taken.add(identifier.toLowerCase());
  return identifier;
}

/** A declaration as a point: read by the controller's areas first, then by the standard's location letters. */
export function pointOfVariable({ name, address, type, comment }: Variable, areas: readonly Area[]): Outcome<PointBody> {
  if (!address) return bad('It has no address (AT %…), so it lies in no register.');
  const place = placeOf(address, areas);
  if (!place.ok) return place;
  const { table, offset, bit } = place.value;
  const known = readIecName(type);
  if (!known) return bad(`The type ${type} is none that registers hold.`);
  const [first = '', ...others] = comment.split('\n');
  const fullName = identifierOf(first, new Set()) === name && first.length <= 80 ? first : name;
  const bits = table === 'coil' || table === 'discrete';
  const parsed = PointBody.safeParse({
    name: fullName.slice(0, 80),
    note: (fullName === first ? others.join('\n') : comment).slice(0, 2000),
    table,
    offset,
    bit: bits ? null : bit,
    type: known.type,
    order: 'ABCD',
    length: known.width,
    encoding: null,
    scale: null,
    unit: '',
    access: table === 'coil' || table === 'holding' ? 'readWrite' : 'read',
  });
  return parsed.success ? good(parsed.data) : bad(schemaProblem(parsed.error).message);
}

function placeOf(address: string, areas: readonly Area[]): Outcome<{ table: Table; offset: number; bit: number | null }> {
  for (const text of [address, address.replace(/^%/, '')]) {
    const named = areas.length ? readAddress(text, { notation: 'area', areas }) : null;
    if (named?.ok) return good({ table: named.value[0]!.table!, offset: named.value[0]!.offset, bit: named.value[0]!.bit });
  }
  const direct = /^%([IQM])([XWDL]?)(\d+)(?:\.(\d+))?$/i.exec(address.trim());
  if (!direct) return bad(`${address} is none of the controller’s areas and no direct address such as %MW40.`);
  const [, letter, size, index, sub] = direct as unknown as [string, string, string, string, string | undefined];
  const kind = letter.toUpperCase();
  const number = Number(index);
  if (size.toUpperCase() !== 'X' && size !== '')
    return good({ table: kind === 'I' ? 'input' : 'holding', offset: number, bit: sub === undefined ? null : Number(sub) });
  if (sub === undefined) return good({ table: kind === 'I' ? 'discrete' : 'coil', offset: number, bit: null });
  if (kind === 'M') return good({ table: 'holding', offset: number, bit: Number(sub) });
  return Number(sub) > 7
    ? bad(`${address} names bit ${sub} of a byte.`)
    : good({ table: kind === 'I' ? 'discrete' : 'coil', offset: number * 8 + Number(sub), bit: null });
}
