import { fernhollow } from '../demo/index.js';
import { requestSheets, type SheetRow } from './index.js';
import { compile } from '../compile/index.js';

const demo = fernhollow();
/** Worked out in each test, so that what a test says is what its own run made. */
const all = () => requestSheets(demo, compile(demo).plan);
const kilnSheet = () => all().find(({ carrier }) => carrier === 'Kiln controller')!;
const row = (device: string, start: number, functionCode?: number): SheetRow =>
  kilnSheet().rows.find(
    (candidate) => candidate.device === device && candidate.start === start && (!functionCode || candidate.functionCode === functionCode),
  )!;

describe('requestSheets', () => {
  it('give each carrier its own requests, and none that stays in its own memory', () => {
    const sheets = all();
    const kiln = kilnSheet();
    expect(sheets.map(({ carrier, rows }) => [carrier, rows.length > 0])).toEqual([
      ['Kiln controller', true],
      ['Steep controller', true],
    ]);
    expect(kiln.rows.filter(({ device }) => device === 'Kiln controller')).toEqual([]);
    const numbers = [...new Set(kiln.rows.map(({ number }) => number))];
    expect(numbers).toEqual(numbers.map((_, index) => index + 1));
  });

  it('write an exchange as two rows of one number, the written registers first', () => {
    const pairs = kilnSheet().rows.filter(({ functionCode }) => functionCode === 23);
    expect(
      pairs.map(({ number, functionName, offset, count }) => `${number - pairs[0]!.number} ${functionName} ${offset}+${count}`),
    ).toEqual([
      '0 write and read registers: written 121+1',
      '0 write and read registers: read 110+1',
      '2 write and read registers: written 120+1',
      '2 write and read registers: read 100+3',
    ]);
    expect(pairs[1]!.why.join(' ')).toContain('One transaction writes and then reads');
  });

  it('write the start as the package wants it typed, the wire address beside it, and how both came about', () => {
    const floor = row('Floor I/O block', 601);
    expect([floor.offset, floor.functionCode, floor.unitId, floor.connection]).toEqual([600, 6, 255, '10.40.8.22:502']);
    expect(floor.why).toContain('600 zero-based; this package takes one-based numbers, so type 601.');
    expect(floor.why).toContain('600 − 600 + 1 = 1 holding register.');
    const airOn = row('Air-on transmitter', 11);
    expect(airOn.connection).toBe('10.40.8.30:502, then Kiln bus, 19200 8E1');
    expect(airOn.why).toContain('In the papers of Air-on transmitter it begins at 30011.');
    expect(airOn.expectedMs).toBeGreaterThan(20);
    const [damper] = all().find(({ carrier }) => carrier === 'Steep controller')!.rows;
    expect([damper!.start, damper!.offset, damper!.why[0]]).toEqual([0, 0, '0 zero-based, typed as it is.']);
  });

  it('land registers where they are wanted if nothing has to be done to them, else in a free block with its work', () => {
    expect(row('Exhaust damper', 1, 2).local).toEqual({ first: 'B3', last: 'B4', isDirect: true, work: [] });
    const airOn = row('Air-on transmitter', 11).local!;
    expect(airOn.isDirect).toBeFalse();
    expect(airOn.work[0]).toBe(`${airOn.first}: float32 to int16, to W40 Kiln air-on temperature`);
    const status = row('Fan drive north', 1, 4).local!;
    expect(status.work.some((text) => text.endsWith('bit 2, to B40 Fan north runs'))).toBeTrue();
  });

  it('give no two blocks the same registers, and none that has a name', () => {
    const kiln = kilnSheet();
    const blocks = kiln.rows.flatMap(({ local }) => (local && !local.isDirect && local.first.startsWith('W') ? local : []));
    const taken = new Set<number>();
    const named = new Set(
      demo.points.filter(({ deviceId, table }) => deviceId === kiln.carrierId && table === 'holding').map(({ offset }) => offset),
    );
    for (const { first, last } of blocks) {
      for (let at = Number(first.slice(1)); at <= Number(last.slice(1)); at++) {
        expect(taken.has(at) || named.has(at))
          .withContext(`W${at}`)
          .toBeFalse();
        taken.add(at);
      }
    }
    expect(blocks.length).toBeGreaterThan(5);
  });

  it('pass on what goes from one device to another through a place of the carrier in between', () => {
    const batch = demo.routes.find(({ name }) => name === 'Batch number')!;
    const yard = demo.devices.find(({ name }) => name === 'Yard display')!;
    const place = demo.points.find(({ deviceId, table, access }) => deviceId === yard.id && table === 'holding' && access !== 'read')!;
    const passed = { ...batch, carrierId: kilnSheet().carrierId, destinationId: place.id, carry: 'registers' as const };
    const { type, order, scale } = demo.points.find(({ id }) => id === batch.sourceId)!;
    const number = { ...place, type, order, scale };
    const changed = { ...demo, routes: [passed], points: demo.points.map((point) => (point.id === place.id ? number : point)) };
    const compiled = compile(changed);
    const [sheet] = requestSheets(changed, compiled.plan);
    const [read, write] = sheet!.rows;
    expect([read!.device, write!.device]).toEqual(['Steep controller', 'Yard display']);
    expect(write!.local?.work).toEqual([`${read!.local?.first} Batch number: as it is, to ${write!.local?.first}`]);
  });

  it('says when a request goes out, for writes by what triggers their routes', () => {
    const change = { ...demo, routes: demo.routes.map((route) => ({ ...route, trigger: { on: 'change', deadband: 0 } as const })) };
    const [sheet] = requestSheets(change, compile(change).plan);
    const triggers = (isWrite: boolean) =>
      new Set(sheet!.rows.filter(({ functionCode }) => functionCode > 4 === isWrite).map(({ trigger }) => trigger));
    // What tells whether a heartbeat moves goes out each time.
    expect([...triggers(true)].sort()).toEqual(['every 1000 ms', 'on change']);
    const telling = sheet!.rows.find(({ trigger, functionCode }) => functionCode > 4 && trigger === 'every 1000 ms');
    expect(telling?.why.at(-1)).toBe('It is on while the value of Kiln heartbeat can be trusted, and off once it is lost.');
    expect(triggers(false)).toContain('every 500 ms');
  });
});
