import { isBitTable, type Table, tables } from '../address/index.js';
import { hasFreeLength, likeliestOf, type PointType, readXsdName, typeOf } from '../types/index.js';
import { bodyOf, type Point, PointBody, pointWidth } from '../model/index.js';
import type { ByteOrder } from '../value/index.js';
import { bad, good, type Outcome, schemaProblem } from '../outcome/index.js';

/**
 * Register maps as W3C Thing Descriptions (WoT Thing Description 1.1 with the Modbus binding template). What the binding
 * has no word for (scale, bits, codes, decimal types) stands in a vocabulary of our own, so that nothing is lost.
 */
const CONTEXT = ['https://www.w3.org/2022/wot/td/v1.1', { modv: 'https://www.w3.org/2019/wot/modbus#', map: 'urn:plain-envoy:map#' }];

const entities: Record<Table, string> = { coil: 'Coil', discrete: 'DiscreteInput', input: 'InputRegister', holding: 'HoldingRegister' };
const readNames: Record<Table, string> = {
  coil: 'readCoil',
  discrete: 'readDiscreteInput',
  input: 'readInputRegisters',
  holding: 'readHoldingRegisters',
};

export interface ThingHome {
  title: string;
  /** Where it is reached, such as `modbus+tcp://10.40.8.10:502`. */
  base: string;
  unitId: number;
}

type Json = Record<string, unknown>;

export function toThing({ title, base, unitId }: ThingHome, points: readonly Point[]): Json {
  const keys = new Set<string>();
  return {
    '@context': CONTEXT,
    title,
    base: `${base}/`,
    securityDefinitions: { nosec_sc: { scheme: 'nosec' } },
    security: 'nosec_sc',
    properties: Object.fromEntries(points.map((point) => [keyOf(point, keys), propertyOf(point, unitId)])),
  };
}

function keyOf({ name }: Point, taken: Set<string>): string {
  const plain = name.replace(/[^\p{L}\p{N}]+/gu, '_').replace(/^_|_$/g, '');
  // Keys that are numbers would be put in another order than they are written in.
  const stem = /^\D/.test(plain) ? plain : `point_${plain}`;
  let key = stem;
  for (let number = 2; taken.has(key); number++) key = `${stem}_${number}`;
  taken.add(key);
  return key;
}

function propertyOf(point: Point, unitId: number): Json {
  const { table, offset, type, order, access, unit, note, name } = point;
  const quantity = pointWidth(point);
  const { xsd, json } = typeOf(type).thing;
  return {
    title: name,
    ...(note ? { description: note } : {}),
    type: json === 'integer' && point.scale ? 'number' : json,
    ...(unit ? { unit } : {}),
    readOnly: access === 'read',
    writeOnly: access === 'write',
    'map:point': {
      ...bodyOf(point),
      name: undefined,
      note: undefined,
      unit: undefined,
      access: undefined,
      table: undefined,
      offset: undefined,
    },
    forms: [
      {
        href: `${unitId}/${offset}?quantity=${quantity}`,
        contentType: 'application/octet-stream',
        op: access === 'read' ? ['readproperty'] : access === 'write' ? ['writeproperty'] : ['readproperty', 'writeproperty'],
        'modv:entity': entities[table],
        ...(access === 'read' ? { 'modv:function': readNames[table] } : {}),
        'modv:unitID': unitId,
        'modv:address': offset,
        'modv:quantity': quantity,
        'modv:zeroBasedAddressing': true,
        ...(xsd ? { 'modv:type': xsd } : {}),
        'modv:mostSignificantByte': order === 'ABCD' || order === 'CDAB' || order === 'ABCDEFGH' || order === 'GHEFCDAB',
        'modv:mostSignificantWord': order === 'ABCD' || order === 'BADC' || order === 'ABCDEFGH' || order === 'BADCFEHG',
      },
    ],
  };
}

/** Reads the properties of a Thing Description that have a Modbus form; those without one are told by name. */
export function readThing(json: unknown): Outcome<{ points: PointBody[]; skipped: { name: string; why: string }[] }> {
  const properties = (json as Json | null)?.['properties'] as Record<string, Json> | undefined;
  if (typeof properties !== 'object' || properties === null) return bad('This Thing Description has no properties.', 'properties');
  const points: PointBody[] = [];
  const skipped: { name: string; why: string }[] = [];
  for (const [key, property] of Object.entries(properties)) {
    const read = readProperty(key, property);
    if (read.ok) points.push(read.value);
    else skipped.push({ name: key, why: read.problem.message });
  }
  return good({ points, skipped });
}

function readProperty(key: string, property: Json): Outcome<PointBody> {
  const forms = Array.isArray(property['forms']) ? (property['forms'] as Json[]) : [];
  const form = forms.find(
    (candidate) => /^modbus|^\/?\d/.test(String(candidate['href'] ?? '')) || 'modv:entity' in candidate || 'modv:function' in candidate,
  );
  if (!form) return bad('It has no Modbus form.');
  const table = tableOfForm(form);
  if (!table) return bad('Its form names neither an entity nor a function that tells the table.');
  const [pathAddress, pathQuantity] = fromHref(String(form['href'] ?? ''));
  const address = Number(form['modv:address'] ?? pathAddress ?? NaN);
  const quantity = Number(form['modv:quantity'] ?? pathQuantity ?? 1);
  if (!Number.isInteger(address)) return bad('Its form has no address.');
  const offset = form['modv:zeroBasedAddressing'] === false ? address - 1 : address;
  const own = (property['map:point'] ?? {}) as Json;
  const type = typeOfForm(form, property, table, quantity);
  if (!type && !own['type']) return bad(`Its form has ${quantity} registers, and no type that says what they hold.`);
  const readOnly = property['readOnly'] === true || table === 'input' || table === 'discrete';
  const drafted = {
    bit: null,
    order: orderOfForm(form),
    length: type && hasFreeLength(type) ? quantity : null,
    encoding: null,
    scale: null,
    type,
    ...own,
    name: String(property['title'] ?? key)
      .slice(0, 80)
      .trim(),
    note: String(property['description'] ?? ''),
    table,
    offset,
    unit: String(property['unit'] ?? ''),
    access: readOnly ? 'read' : property['writeOnly'] === true ? 'write' : 'readWrite',
  };
  const parsed = PointBody.safeParse(drafted);
  return parsed.success ? good(parsed.data) : bad(schemaProblem(parsed.error).message);
}

function tableOfForm(form: Json): Table | null {
  const entity = String(form['modv:entity'] ?? '').toLowerCase();
  const byEntity = tables.find((table) => entities[table].toLowerCase() === entity);
  if (byEntity) return byEntity;
  const called = String(form['modv:function'] ?? '').toLowerCase();
  if (/^(1|5|15|0?1|0f)$/.test(called) || /coil/.test(called)) return 'coil';
  if (/^2$/.test(called) || /discrete/.test(called)) return 'discrete';
  if (/^4$/.test(called) || /inputregister/.test(called)) return 'input';
  return /^(3|6|16)$/.test(called) || /register/.test(called) ? 'holding' : null;
}

function fromHref(href: string): [string | undefined, string | undefined] {
  const address = /(?:^|\/)\d+\/(\d+)(?:[/?&]|$)/.exec(href)?.[1];
  return [address, /[?&]quantity=(\d+)/.exec(href)?.[1]];
}

/** By the name of its type, else by how many registers it has; null where neither tells. */
function typeOfForm(form: Json, property: Json, table: Table, quantity: number): PointType | null {
  if (isBitTable(table)) return 'bit';
  const xsd = String(form['modv:type'] ?? '');
  const known = readXsdName(xsd) ?? (property['type'] === 'string' ? 'string' : null);
  if (known) return known;
  const isReal = property['type'] === 'number' || /^(xsd:|xs:)?decimal$/i.test(xsd);
  return (isReal ? likeliestOf(quantity, 'float') : null) ?? likeliestOf(quantity, 'whole');
}

function orderOfForm(form: Json): ByteOrder {
  const byteFirst = form['modv:mostSignificantByte'] !== false;
  const wordFirst = form['modv:mostSignificantWord'] !== false;
  return byteFirst ? (wordFirst ? 'ABCD' : 'CDAB') : wordFirst ? 'BADC' : 'DCBA';
}
