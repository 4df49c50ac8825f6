import * as fc from 'fast-check';
import { fernhollow } from '../demo/index.js';
import { pointOfVariable } from '../format/index.js';
import { type Device, ListProfile, type Point, type ProjectDocument, type Variable } from '../model/index.js';
import { compileProgram } from '../program/index.js';
import { countedIds } from '../testing/index.js';
import { controllersOf, literal, profileFor, standardProfile, variableCells, variableList } from './index.js';

const demo = fernhollow();
const kiln = demo.devices.find(({ name }) => name === 'Kiln controller')!;
const pointOf = (name: string) => demo.points.find((point) => point.deviceId === kiln.id && point.name === name)!;
const nextId = countedIds('019aa222');
const setting = (point: Point, fields: Partial<Variable>): Variable => ({
  ...{ id: nextId(), projectId: demo.project.id, pointId: point.id, name: null, initial: '', retain: false },
  ...fields,
});
const rowsOf = (of: ProjectDocument, rules?: Parameters<typeof variableList>[2], device: Device = kiln) =>
  variableList(of, device, rules).rows;
const rowOf = (of: ProjectDocument, name: string, rules?: Parameters<typeof variableList>[2]) =>
  rowsOf(of, rules).find((row) => row.pointId === pointOf(name).id)!;
const withSettings = (...variables: Variable[]): ProjectDocument => ({ ...demo, variables });

describe('The variables of a controller', () => {
  it('are its points in the order of their places, with type, address and where their values come from', () => {
    const rows = rowsOf(demo);
    expect(rows.length).toBe(demo.points.filter(({ deviceId }) => deviceId === kiln.id).length);
    const { name, type, address, at, source, unit, comment, initial, retain, changed } = rowOf(demo, 'Kiln air-on temperature');
    expect([name, type, address, at, initial, retain]).toEqual(['Kiln_air_on_temperature', 'INT', 'W40', '%W40', '', false]);
    expect(source).toBe('from Air-on transmitter 30011');
    expect([unit, comment]).toEqual(['°C', 'Kiln air-on temperature [°C, raw × 0.1], from Air-on transmitter 30011']);
    expect(changed.length).toBe(1);
    expect(rowOf(demo, 'Turner drive position').source).toBe('from Floor turner Position');
    expect(rowOf(demo, 'Damper set point').source).toContain('to Exhaust damper');
    expect(controllersOf(demo).map((row) => row.name)).toContain('Kiln controller');
  });

  it('have names by the rules, or as a person has given them, and each only once', () => {
    const [first, second] = rowsOf(demo).map((row) => demo.points.find(({ id }) => id === row.pointId)!);
    const of = withSettings(setting(first!, { name: 'iTemperature' }));
    const rules = { ...standardProfile, prefix: 'g_', byDevice: true, case: 'upper' as const };
    const row = rowsOf(of, rules)[0]!;
    expect([row.name, row.changed]).toEqual(['iTemperature', ['given by hand']]);
    expect(rowOf(of, 'Kiln air-on temperature', rules).name).toBe('G_AIR_ON_TRANSMITTER_KILN_AIR_ON_TEMPERA');
    const clash = { ...of, points: of.points.map((point) => (point.id === second!.id ? { ...point, name: 'itemperature' } : point)) };
    expect(rowsOf(clash).find(({ pointId }) => pointId === second!.id)!.name)
      .withContext('gives way to what was given')
      .toBe('itemperature_2');
    expect(rowOf(demo, 'Kiln air-on temperature', { ...standardProfile, reserved: ['KILN_AIR_ON_TEMPERATURE'] }).name).toBe(
      'Kiln_air_on_temperature_2',
    );
  });

  it('begin with what was typed as a literal of their type, and say where that is no value', () => {
    const of = withSettings(
      setting(pointOf('Kiln air-on temperature'), { initial: '62.5', retain: true }),
      setting(pointOf('Damper set point'), { initial: '85,3' }),
      setting(pointOf('Turner position is valid'), { initial: 'on' }),
      setting(pointOf('Turner status'), { initial: '0x0005' }),
      setting(pointOf('Turner speed wanted'), { initial: 'fast' }),
    );
    const begins = (name: string) => {
      const { initial, wrong, retain } = rowOf(of, name);
      return [initial, wrong, retain];
    };
    expect(begins('Kiln air-on temperature')).toEqual(['625', null, true]);
    expect(begins('Damper set point')).toEqual(['853', null, false]);
    expect(begins('Turner position is valid')).toEqual(['TRUE', null, false]);
    expect(begins('Turner status')).toEqual(['16#5', null, false]);
    expect(begins('Turner speed wanted')[0]).toBe('');
    expect(begins('Turner speed wanted')[1]).toContain('fast');
  });

  it('are a table of the columns that are chosen', () => {
    const { head, cells } = variableCells(variableList(demo, kiln), ['type', 'name', 'retain', 'unit', 'point', 'source']);
    expect(head).toEqual(['Type', 'Name', 'Retain', 'Unit', 'Point', 'Source']);
    expect(cells.find(([, name]) => name === 'Kiln_air_on_temperature')).toEqual([
      ...['INT', 'Kiln_air_on_temperature', 'no', '°C', 'Kiln air-on temperature', 'from Air-on transmitter 30011'],
    ]);
  });

  it('follow the profile that names their controller', () => {
    const profile = {
      ...standardProfile,
      id: '019aa222-0000-7000-8000-00000000ffff',
      projectId: demo.project.id,
      deviceIds: [kiln.id],
      name: 'Ours',
      maxLength: 12,
    };
    const of = { ...demo, listProfiles: [profile] };
    expect(profileFor(of, kiln.id)).toBe(profile);
    expect(Math.max(...rowsOf(of).map(({ name }) => name.length))).toBe(12);
    expect(profileFor(demo, kiln.id)).toBe(standardProfile);
    const wrong = ListProfile.safeParse({ ...profile, encoding: 'windows-1252' });
    expect(wrong.error?.issues[0]?.path).toEqual(['byteOrderMark']);
    expect(ListProfile.safeParse({ ...profile, columns: ['name', 'name'] }).success).toBeFalse();
  });

  it('lie in the registers from which they were made, by their direct addresses', () => {
    for (const { at, type, pointId } of rowsOf(demo)) {
      const point = demo.points.find(({ id }) => id === pointId)!;
      const back = pointOfVariable({ name: 'X', address: at, type, comment: '' }, kiln.areas);
      expect(back.ok && [back.value.table, back.value.offset, back.value.bit])
        .withContext(`${point.name} ${at}`)
        .toEqual([point.table, point.offset, point.bit]);
    }
  });
});

describe('A literal', () => {
  it('is what a program has of it', () => {
    const value = (type: string, text: string) => {
      const { program, problems } = compileProgram(`PROGRAM P VAR x : ${type} := ${text}; END_VAR END_PROGRAM`);
      if (!program) throw new Error(`${type} ${text}: ${problems[0]!.message}`);
      program.scan(50);
      const found = program.read('x');
      return 'value' in found ? found.value : found.why;
    };
    fc.assert(
      fc.property(fc.integer({ min: -32_768, max: 32_767 }), (number) => expect(value('INT', literal(number, 'INT'))).toBe(number)),
    );
    fc.assert(
      fc.property(fc.double({ noNaN: true, noDefaultInfinity: true }), (number) =>
        expect(Number(value('LREAL', literal(number, 'LREAL'))) + 0).toBe(number + 0),
      ),
    );
    fc.assert(fc.property(fc.string({ maxLength: 20 }), (text) => expect(value('STRING[40]', literal(text, 'STRING'))).toBe(text)));
    expect(value('LWORD', literal(0xfedc_ba98_7654_3210n, 'LWORD'))).toBe('18364758544493064720');
    expect([value('BOOL', literal(true, 'BOOL')), value('REAL', literal(1e21, 'REAL'))]).toEqual([true, Math.fround(1e21)]);
  });
});
