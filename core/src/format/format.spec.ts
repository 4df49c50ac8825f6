import { atRegister } from '../place/index.js';
import fc from 'fast-check';
import { isBitTable, isWritable, tables } from '../address/index.js';
import { bodyOf, type Point, PointBody } from '../model/index.js';
import { byteOrders } from '../value/index.js';
import {
  csvHeader,
  csvRow,
  declareVariables,
  emptyReason,
  iecText,
  type KnownWord,
  mapChanges,
  type MapHome,
  mapJson,
  MapOptions,
  pointOfVariable,
  readIecText,
  readMap,
  readMapJson,
  readThing,
  splitLoose,
  toThing,
} from './index.js';
import { valueTypes } from '../types/index.js';
import { readType } from '../fields/index.js';

const projectId = '019aa000-0000-7000-8000-000000000001';
const deviceId = '019aa000-0000-7000-8000-000000000002';
const home: MapHome = { projectId, deviceId, notation: 'reference5', areas: [], points: [] };
const id = (number: number) => `019aa000-0000-7000-8000-${String(number).padStart(12, '0')}`;
const options = MapOptions.parse({});

function read(rows: string[][], where: Partial<MapHome> = {}, chosen: Partial<MapOptions> = {}) {
  const reading = readMap({ rows }, { ...home, ...where }, { ...options, ...chosen });
  if (!reading.ok) throw new Error(reading.problem.message);
  return reading.value;
}

const refusal = (rows: string[][]) => {
  const reading = readMap({ rows }, home, options);
  return reading.ok ? emptyReason(reading.value) : reading.problem.message;
};

const summary = ({ rows }: ReturnType<typeof read>) =>
  rows
    .filter(({ fate }) => fate !== 'joins' && fate !== 'apart')
    .map(({ draft, problems }) =>
      draft ? `${draft.name} ${draft.table} ${draft.offset} ${draft.type} ${draft.order}` : problems[0]!.message,
    );

/** Any point that the schema accepts. */
const anyText = fc.stringMatching(/^[ -~äöü°µ;,"\\=]{0,20}$/).map((text) => text.trim());
const anyName = anyText.filter((text) => text.length > 0);
const anyBody = fc
  .record({
    name: anyName,
    note: anyText,
    table: fc.constantFrom(...tables),
    offset: fc.integer({ min: 0, max: 65_000 }),
    bit: fc.option(fc.nat(15)),
    type: fc.constantFrom('bit' as const, ...valueTypes),
    order: fc.constantFrom(...byteOrders.slice(0, 4)),
    length: fc.integer({ min: 1, max: 60 }),
    encoding: fc.constantFrom('ascii', 'utf-8', null),
    scale: fc.constantFrom(
      null,
      { factor: 0.1, offset: 0 },
      { factor: 2, offset: -40 },
      { raw: [0, 27_648], units: [-10, 10], clamp: true },
    ),
    unit: fc.constantFrom('', '°C', '%', 'kWh'),
    access: fc.constantFrom('read', 'write', 'readWrite'),
    bits: fc.uniqueArray(fc.record({ bit: fc.nat(15), name: anyName }), { selector: ({ bit }) => bit, maxLength: 3 }),
    codes: fc.uniqueArray(fc.record({ value: fc.integer({ min: -9, max: 900 }), name: anyName }), {
      selector: ({ value }) => value,
      maxLength: 3,
    }),
  })
  .map((body) => {
    const bits = isBitTable(body.table);
    const type = bits ? 'bit' : body.type;
    const free = type === 'string' || type === 'bits';
    const plain = type === 'bit' || free;
    return PointBody.parse({
      ...body,
      type,
      bit: !bits && type === 'bit' ? (body.bit ?? 0) : null,
      length: free ? body.length : null,
      encoding: type === 'string' ? body.encoding : null,
      scale: plain ? null : body.scale,
      access: isWritable(body.table) ? body.access : 'read',
    });
  });
const anyPoints = fc.uniqueArray(anyBody, { selector: ({ name }) => name, maxLength: 8, minLength: 1 }).map((bodies) =>
  bodies.map((body, index): Point => ({
    ...body,
    id: id(index),
    projectId,
    deviceId,
    place: atRegister,
    releasedBy: null,
    watchdogMs: null,
  })),
);

describe('a table of registers', () => {
  it('is recognised by its headers, in any order', () => {
    const table = read([
      ['Boiler, firmware 3', '', '', '', ''],
      ['Einheit', 'Datentyp', 'Bezeichnung', 'Modbus Adresse', 'Faktor'],
      ['°C', 'INT16', 'Vorlauftemperatur', '30011', '0,1'],
      ['', '', 'Energie', '', ''],
      ['kWh', 'UINT32 (low word first)', 'Zähler', '30013', ''],
    ]);
    expect(summary(table)).toEqual(['Vorlauftemperatur input 10 int16 ABCD', 'Zähler input 12 uint32 CDAB']);
    expect(table.rows[0]!.draft?.scale).toEqual({ factor: 0.1, offset: 0 });
    expect(table.why[1]).toContain('five-digit reference');
  });

  it('is recognised by its content where nothing names the columns', () => {
    const table = read([
      ['0x0000', 'Outlet pressure', 'uint16', 'bar', 'R'],
      ['0x0001', 'Motor speed', 'int16', 'rpm', 'R/W'],
      ['0x00A0', 'Running hours', 'uint32', 'h', 'R'],
    ]);
    expect(table.fields).toEqual(['address', 'name', 'type', 'unit', 'access']);
    expect(summary(table)).toEqual([
      'Outlet pressure holding 0 uint16 ABCD',
      'Motor speed holding 1 int16 ABCD',
      'Running hours holding 160 uint32 ABCD',
    ]);
  });

  it('keeps to the notation of most rows when one of them is wrong', () => {
    const table = read([
      ['name', 'address'],
      ['A', '30001'],
      ['B', '40000'],
      ['C', '30002'],
    ]);
    expect(table.notation).toBe('reference5');
    expect(table.counts).toEqual({ adds: 2, changes: 0, same: 0, joins: 0, apart: 0, problem: 1 });
  });

  it('says how plain numbers are counted and why, and takes what a person chooses instead', () => {
    const rows = [
      ['name', 'register', 'type'],
      ['One', '1', 'int16'],
      ['Two', '2', 'int16'],
    ];
    expect(read(rows).why[1]).toContain('most manuals then count from 1');
    expect(read(rows).rows[0]!.draft?.offset).toBe(0);
    expect(read(rows, {}, { notation: 'pdu' }).rows[0]!.draft?.offset).toBe(1);
    expect(read([...rows, ['None', '0', 'int16']]).why[1]).toContain('One of them is 0');
  });

  it('takes a row with what was understood, says what is open, and leaves out what has no register', () => {
    const table = read([
      ['name', 'address', 'type', 'length', 'access'],
      ['Good', '40001', 'float', '2', 'rw'],
      ['No such type', '40003', 'quaternion', '', 'perhaps'],
      ['No such register', '40000', 'int16', '', ''],
      ['Wrong length', '40004', 'float32', '3', ''],
      ['Read only', '30001', 'int16', '1', 'rw'],
      ['No length', '40020', 'string', '', ''],
    ]);
    expect(summary(table)).toEqual([
      'Good holding 0 float32 ABCD',
      'No such type holding 2 uint16 ABCD',
      jasmine.stringContaining('40000 would be holding register 0') as never,
      'Wrong length holding 3 float32 ABCD',
      'Read only input 0 int16 ABCD',
      'No length holding 19 string ABCD',
    ]);
    expect(table.counts).toEqual({ adds: 5, changes: 0, same: 0, joins: 0, apart: 0, problem: 1 });
    expect(table.rows[1]!.open.map(({ message }) => message)).toEqual([
      '“quaternion” is no type that is known.',
      '“perhaps” is neither read nor write.',
    ]);
    expect(table.rows[1]!.draft?.note).toBe('Open: “quaternion” is no type that is known.\nOpen: “perhaps” is neither read nor write.');
    expect(table.rows[3]!.open[0]!.message).toBe('float32 takes 2 registers; the row says 3.');
    expect(table.rows[4]!.remarks[0]).toContain('read only');
    expect(table.unknown).toEqual([
      { field: 'type', word: 'quaternion', rows: 1 },
      { field: 'access', word: 'perhaps', rows: 1 },
    ]);
  });

  it('knows a word once a person has said what it means', () => {
    const rows = [
      ['name', 'address', 'type', 'access'],
      ['Door', '40001', 'Schalterwort', 'ja'],
    ];
    const words: KnownWord[] = [
      { field: 'type', word: 'schalterwort', meaning: 'bits' },
      { field: 'access', word: 'ja', meaning: '' },
    ];
    const { draft, open } = read(rows, { words }).rows[0]!;
    expect([draft?.type, draft?.access, open]).toEqual(['bits', 'readWrite', []] as never);
  });

  it('gives rows without an address to the one above: bits, codes, a note; and says what stands apart', () => {
    const table = read([
      ['Register', 'Name', 'Type', 'Bit', 'Description'],
      ['40001', 'Status', 'uint16', '', ''],
      ['', '', '', '0', 'Pump runs'],
      ['', '', '', '1', 'Fault'],
      ['', 'Settings', '', '', ''],
      ['40002', 'Mode', 'uint16', '', '0 = off, 1 = on, 2 = automatic'],
      ['40003', 'Alarm', 'uint16', '', ''],
      ['', 'Bit 0: door open, bit 3: filter', '', '', ''],
      ['40004', 'Level', 'int16', '', ''],
      ['', 'It is measured twice a second and averaged over ten seconds.', '', '', ''],
    ]);
    expect(table.rows.map(({ fate }) => fate)).toEqual(['adds', 'joins', 'joins', 'apart', 'adds', 'adds', 'joins', 'adds', 'joins']);
    const drafts = table.rows.flatMap(({ draft }) => draft ?? []);
    expect(drafts.map(({ bits }) => bits.map(({ bit, name }) => `${bit} ${name}`))).toEqual([
      ['0 Pump runs', '1 Fault'],
      [],
      ['0 door open', '3 filter'],
      [],
    ]);
    expect(drafts[1]!.codes.map(({ value, name }) => `${value} ${name}`)).toEqual(['0 off', '1 on', '2 automatic']);
    expect(drafts[3]!.note).toContain('averaged');
  });

  it('follows headings that name another table', () => {
    const table = read([
      ['Register', 'Name', 'Type'],
      ['Input registers (FC 04)', '', ''],
      ['0', 'Level', 'int16'],
      ['Holding registers', '', ''],
      ['0', 'Setpoint', 'int16'],
    ]);
    expect(summary(table)).toEqual(['Level input 0 int16 ABCD', 'Setpoint holding 0 int16 ABCD']);
  });

  it('is read in five languages', () => {
    const heads = [
      ['Adresse', 'Bezeichnung', 'Datentyp', 'Einheit', 'Zugriff'],
      ['Adresse', 'Désignation', 'Type de données', 'Unité', 'Accès'],
      ['Dirección', 'Nombre', 'Tipo de dato', 'Unidad', 'Acceso'],
      ['Indirizzo', 'Denominazione', 'Tipo di dato', 'Unità', 'Accesso'],
    ];
    const rows = [
      ['40001', 'A', 'Ganzzahl ohne Vorzeichen, 32 Bit', 'V', 'nur lesen'],
      ['40001', 'A', 'entier non signé 32 bits', 'V', 'lecture seule'],
      ['40001', 'A', 'entero sin signo de 32 bits', 'V', 'solo lectura'],
      ['40001', 'A', 'intero senza segno 32 bit', 'V', 'sola lettura'],
    ];
    for (const [index, row] of rows.entries()) {
      const table = read([heads[index]!, row, [...row.slice(0, 1).map(() => '40003'), 'B', 'float', 'V', row[4]!]]);
      expect(table.fields).toEqual(['address', 'name', 'type', 'unit', 'access']);
      expect([table.rows[0]!.draft?.type, table.rows[0]!.draft?.access, table.rows[0]!.open]).toEqual(['uint32', 'read', []] as never);
    }
    const typed = ['Bitfeld', 'champ de bits', 'Gleitkomma', 'virgule flottante', 'virgola mobile', 'Ganzzahl', 'booléen'].map(
      (type) => readType(type)?.type,
    );
    expect(typed).toEqual(['bits', 'bits', 'float32', 'float32', 'float32', 'int16', 'bit']);
  });

  it('changes the point with the same name, and leaves alone what no column speaks of', () => {
    const first = read([
      ['name', 'address', 'type', 'unit'],
      ['Speed', '40001', 'uint16', 'Hz'],
    ]);
    let next = 0;
    const [change] = mapChanges(first, home, () => id(next++));
    const points = [{ ...(change!.after as Point), note: 'kept' }];
    const again = read(
      [
        ['name', 'address'],
        ['Speed', '40002'],
      ],
      { points },
    );
    expect(again.counts).toEqual({ adds: 0, changes: 1, same: 0, joins: 0, apart: 0, problem: 0 });
    expect(mapChanges(again, { ...home, points }, () => id(9))[0]!.after).toEqual({ ...points[0]!, offset: 1 });
    const same = read(
      [
        ['name', 'address'],
        ['Speed', '40001'],
      ],
      { points },
    );
    expect(emptyReason(same)).toBe('All 1 rows are in the map already, exactly like this.');
  });

  it('that holds no registers says what was read and what is missing', () => {
    expect(
      refusal([
        ['Dear', 'Sir'],
        ['the', 'pump'],
      ]),
    ).toBe('2 rows were read in 2 columns, but no column holds addresses.');
    expect(refusal([Array.from({ length: 10_000 }, () => 'x')])).toContain('It has 10000 columns');
    expect(
      refusal([
        ['name', 'address'],
        ['A', '99999999'],
      ]),
    ).toContain('No row fitted: line 2');
  });

  it('takes a formula for text', () => {
    const table = read([
      ['name', 'address'],
      ["'=HYPERLINK(1)", '40001'],
      ['=1+1', '40002'],
    ]);
    expect(table.rows.map(({ draft }) => draft?.name)).toEqual(['=HYPERLINK(1)', '=1+1']);
  });

  it('splits a printed table by its gaps, or by what its words are', () => {
    expect(splitLoose('30011  Air temperature  float32\n30013  Air humidity     float32')).toEqual([
      ['30011', 'Air temperature', 'float32'],
      ['30013', 'Air humidity', 'float32'],
    ]);
    const table = read(
      splitLoose('30011 Air temperature float32 CDAB R °C\n30013 Air humidity float32 CDAB R %\n30015 Fan speed set uint16 x0.1 R Hz'),
    );
    expect(summary(table)).toEqual([
      'Air temperature input 10 float32 CDAB',
      'Air humidity input 12 float32 CDAB',
      'Fan speed set input 14 uint16 ABCD',
    ]);
    expect(table.rows.map(({ draft }) => draft?.unit)).toEqual(['°C', '%', 'Hz']);
  });

  it('of our own comes back without loss', () => {
    fc.assert(
      fc.property(anyPoints, (points) => {
        const reading = read([[...csvHeader], ...points.map(csvRow)]);
        expect(reading.rows.map(({ draft, problems }) => draft ?? problems)).toEqual(points.map(bodyOf));
      }),
      { numRuns: 300 },
    );
  });
});

describe('our own JSON and a Thing Description', () => {
  it('come back without loss', () => {
    fc.assert(
      fc.property(anyPoints, (points) => {
        const json: unknown = JSON.parse(JSON.stringify(mapJson('Meter', points)));
        expect(readMapJson(json)).toEqual({ ok: true, value: points.map(bodyOf) });
        const thing: unknown = JSON.parse(
          JSON.stringify(toThing({ title: 'Meter', base: 'modbus+tcp://10.40.8.30:502', unitId: 31 }, points)),
        );
        expect(readThing(thing)).toEqual({ ok: true, value: { points: points.map(bodyOf), skipped: [] } });
      }),
      { numRuns: 300 },
    );
  });

  it('are read as others write them, and what has no Modbus form is told', () => {
    const thing = {
      properties: {
        level: {
          type: 'number',
          readOnly: true,
          forms: [
            {
              href: 'modbus+tcp://10.0.0.5:502/1/40?quantity=2',
              'modv:entity': 'HoldingRegister',
              'modv:type': 'xsd:float',
              'modv:mostSignificantWord': false,
            },
          ],
        },
        valve: {
          type: 'boolean',
          forms: [{ href: 'modbus+tcp://10.0.0.5:502/1/7', 'modv:function': 'readCoil', 'modv:zeroBasedAddressing': false }],
        },
        web: { forms: [{ href: 'http://10.0.0.5/' }] },
      },
    };
    const found = readThing(thing);
    expect(found.ok && found.value.points.map(({ name, table, offset, type, order }) => [name, table, offset, type, order])).toEqual([
      ['level', 'holding', 40, 'float32', 'CDAB'],
      ['valve', 'coil', 6, 'bit', 'ABCD'],
    ]);
    expect(found.ok && found.value.skipped).toEqual([{ name: 'web', why: 'It has no Modbus form.' }]);
  });

  it('of another kind are refused in words', () => {
    expect(readMapJson({ format: 'x' })).toEqual({ ok: false, problem: jasmine.objectContaining({ path: ['format'] }) });
    expect(readThing([]).ok).toBeFalse();
  });
});

describe('variables of a controller', () => {
  const areas = [
    { name: 'W', table: 'holding', firstIndex: 0, offset: 0, stride: 1, count: 65_536, firstBit: 0 },
    { name: 'B', table: 'coil', firstIndex: 0, offset: 0, stride: 1, count: 65_536, firstBit: null },
  ] as const;

  it('keep name, place, type and note as text of IEC 61131-3, with areas and without', () => {
    const declarable = anyPoints.map((points) =>
      points.map((point) => ({
        ...point,
        name: `P ${point.name.replace(/[^A-Za-z0-9 ]/g, '') || 'x'}`.trim().replace(/\s+/g, ' '),
        note: point.note.replace(/\*\)/g, '').trim(),
      })),
    );
    fc.assert(
      fc.property(declarable, fc.constantFrom([], [...areas]), (points, known) => {
        const text = iecText('Kiln', declareVariables(points, known));
        const back = readIecText(text);
        const places = back.ok ? back.value.map((variable) => pointOfVariable(variable, known)) : [];
        expect(places.map((read) => read.ok && [read.value.table, read.value.offset, read.value.bit])).toEqual(
          points.map(({ table, offset, bit }) => [table, offset, bit]),
        );
        const plain = new Set(['bit', 'int16', 'uint16', 'int32', 'uint32', 'int64', 'uint64', 'float32', 'float64', 'string']);
        for (const [index, point] of points.entries()) {
          const read = places[index]!;
          if (read.ok && plain.has(point.type)) expect(read.value.type).toBe(point.type);
        }
      }),
      { numRuns: 300 },
    );
  });

  it('are found among comments, with the line of each, and unlocated ones are told', () => {
    const text = `PROGRAM kiln\nVAR\n  (* the fans : all; *)\n  // old : INT;\n  FanSpeed AT %MW40 : INT := 0; (* Fan speed\n in tenths *)\n  Ready AT %IX2.3 : BOOL; // end position\n  i : INT;\n  Name AT %MW60 : STRING[20];\nEND_VAR\n`;
    const found = readIecText(text);
    expect(found.ok && found.value.map(({ name, line }) => [name, line])).toEqual([
      ['FanSpeed', 5],
      ['Ready', 7],
      ['i', 8],
      ['Name', 9],
    ]);
    const points = found.ok ? found.value.map((variable) => pointOfVariable(variable, [])) : [];
    expect(
      points.map((point) =>
        point.ok ? [point.value.name, point.value.table, point.value.offset, point.value.type, point.value.length] : point.problem.message,
      ),
    ).toEqual([
      ['FanSpeed', 'holding', 40, 'int16', null],
      ['Ready', 'discrete', 19, 'bit', null],
      'It has no address (AT %…), so it lies in no register.',
      ['Name', 'holding', 60, 'string', 10],
    ]);
    expect(readIecText('hello').ok).toBeFalse();
  });
});
