import { fernhollow } from '@plain-envoy/core/demo';
import { MapOptions, pointOfVariable, readIecText, readMap, type Variable as Declared } from '@plain-envoy/core/format';
import { profileFor, standardProfile } from '@plain-envoy/core/handover';
import type { ListProfile, Point, PointBody, ProjectDocument, Variable } from '@plain-envoy/core/model';
import { columnsOf } from './columns.js';
import { decodeText } from './encoding.js';
import { exportVariables } from './exports.js';
import { readIecXml } from './iec-xml.js';
import { readSheets } from './workbook.js';

const demo = fernhollow();
const kiln = demo.devices.find(({ name }) => name === 'Kiln controller')!;
const own = demo.points.filter(({ deviceId }) => deviceId === kiln.id);
const ids = { projectId: demo.project.id };
const [reset, temperature] = ['Plant alarm', 'Kiln air-on temperature'].map((name) => own.find((point) => point.name === name)!) as [
  Point,
  Point,
];
const variables: Variable[] = [
  { ...ids, id: '019aa444-0000-7000-8000-000000000001', pointId: reset.id, name: null, initial: 'on', retain: false },
  { ...ids, id: '019aa444-0000-7000-8000-000000000002', pointId: temperature.id, name: null, initial: '-5', retain: true },
];
const withProfile = (fields: Partial<ListProfile> = {}): ProjectDocument => ({
  ...{ ...demo, variables },
  listProfiles: [{ ...standardProfile, ...ids, id: '019aa444-0000-7000-8000-000000000003', deviceIds: [kiln.id], ...fields }],
});

/** Where a point lies and what it is, by which it is known again. */
const essence = ({ name, table, offset, bit, type, length }: PointBody | Point) => [name, table, offset, bit, type, length ?? null].join();
const sorted = (points: readonly (PointBody | Point)[]) => points.map(essence).sort();
const written = async (format: string, of = withProfile()) => Buffer.from((await exportVariables(of, kiln.id, format)).body);
const declaredOf = (variables: readonly Declared[]) =>
  variables.map((variable) => {
    const point = pointOfVariable(variable, kiln.areas);
    if (!point.ok) throw new Error(`${variable.name}: ${point.problem.message}`);
    return point.value;
  });
/** A table read into a controller that has the same areas and no point yet. */
const tableOf = (table: Parameters<typeof readMap>[0]) => {
  const home = { projectId: demo.project.id, deviceId: kiln.id, notation: kiln.notation, areas: kiln.areas, points: [] };
  const read = readMap(table, home as unknown as Parameters<typeof readMap>[1], MapOptions.parse({}));
  if (!read.ok) throw new Error(read.problem.message);
  return read.value;
};
const textOf = (bytes: Buffer) => {
  const text = decodeText(bytes);
  if (!text.ok) throw new Error(text.problem.message);
  return text.value;
};

describe('Lists of variables', () => {
  it('come back from Structured Text and from XML as the points that they were made of', async () => {
    const text = (await written('st')).toString('utf8');
    expect(text).toContain('  Plant_alarm AT %B56 : BOOL := TRUE; (* Plant alarm\nto Grid station Plant alarm *)');
    expect(text).toContain('VAR_GLOBAL RETAIN\n  Kiln_air_on_temperature AT %W40 : INT := -50;');
    const declared = readIecText(text);
    expect(declared.ok && sorted(declaredOf(declared.value))).toEqual(sorted(own));
    const xml = readIecXml((await written('xml')).toString('utf8'));
    expect(xml.ok && sorted(declaredOf(xml.value))).toEqual(sorted(own));
    expect((await written('xml')).toString('utf8')).toMatch(/<GlobalVars name="Retained" retain="true">[^]*<SimpleValue value="-50"/);
  });

  it('come back from a table in every encoding and with every separator, with the names of points where those are in it', async () => {
    for (const [encoding, byteOrderMark, separator] of [
      ['utf-8', true, ';'],
      ['utf-8', false, ','],
      ['utf-16le', true, '\t'],
      ['windows-1252', false, ';'],
    ] as const) {
      const of = withProfile({ encoding, byteOrderMark, separator, columns: ['address', 'type', 'unit', 'name', 'comment', 'initial'] });
      const text = textOf(await written('csv', of));
      const { rows } = tableOf(columnsOf(text.text));
      const back = rows.flatMap(({ draft }) => (draft ? [draft] : []));
      // A table says WORD of bits, which in lists of registers is a number more often than not.
      const typeOf = ({ type }: PointBody | Point) => (type === 'bits' ? ('uint16' as const) : type);
      const places = (points: readonly (PointBody | Point)[]) =>
        sorted(points.map((point) => ({ ...point, name: '', type: typeOf(point) })));
      expect(places(back)).withContext(text.encoding).toEqual(places(own));
      expect(back.find(({ name }) => name === 'Kiln_air_on_temperature')?.unit).toBe('°C');
    }
  });

  it('come back from a workbook', async () => {
    const sheets = await readSheets(await written('xlsx'));
    if (!sheets.ok) throw new Error(sheets.problem.message);
    const { rows } = tableOf(sheets.value.sheets[0]!);
    expect(rows.filter(({ draft }) => draft).length).toBe(own.length);
  });

  it('leave numbers as they are, and mark what a spreadsheet would take for a formula', async () => {
    const named = { ...withProfile({ columns: ['initial', 'unit', 'name'], head: false }) };
    const of = { ...named, points: named.points.map((point) => (point.id === temperature.id ? { ...point, unit: '=1+1' } : point)) };
    const text = textOf(await written('csv', of)).text;
    expect(text).toContain(`-50;"'=1+1";Kiln_air_on_temperature`);
    expect(text.split('\r\n')[0]).not.toContain('Initial value');
    expect(profileFor(of, kiln.id).columns[0]).toBe('initial');
  });
});
