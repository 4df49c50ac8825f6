import { compile } from '../compile/index.js';
import type { Device, Route } from '../model/index.js';
import { SmallProject } from '../testing/index.js';
import { clientsOf } from './clients.js';
import { joinExchanges } from './exchanges.js';
import { whyNotRead, whyNotWritten } from './may-carry.js';
import { areSame, Memory } from './memory.js';
import type { PlannedRequest } from './plan.js';
import { writeRuns } from './write-runs.js';

describe('the stretches of a write', () => {
  it('leave out what is not known, and hold neighbours together', () => {
    expect(writeRuns([])).toEqual([]);
    expect(writeRuns([null, null])).toEqual([]);
    expect(writeRuns([1, 2, null, 4, null, null, 7, 0])).toEqual([
      { at: 0, values: [1, 2] },
      { at: 3, values: [4] },
      { at: 6, values: [7, 0] },
    ]);
  });
});

describe('what is known from the plan before', () => {
  const request = (id: string, pointId: string) => ({ id, points: [{ pointId, at: 0, width: 1 }] }) as unknown as PlannedRequest;

  it('is the very same while it is equal, and new as soon as it is not', () => {
    const memory = new Memory();
    const first = memory.same('way', { ip: '10.0.0.1' });
    expect(memory.same('way', { ip: '10.0.0.1' })).toBe(first);
    expect(memory.same('other', { ip: '10.0.0.1' })).not.toBe(first);
    const second = memory.same('way', { ip: '10.0.0.2' });
    expect(second).toEqual({ ip: '10.0.0.2' });
    expect(memory.same('way', { ip: '10.0.0.2' })).toBe(second);
  });

  it('is made anew when anything that it rests on is another, and forgotten once nobody asks', () => {
    const memory = new Memory();
    const [a, b] = [{}, {}];
    let made = 0;
    const make = () => [request(`${(made += 1)}`, 'p')];
    const first = memory.requestsOf('group', [a, b], make);
    expect(first.byPoint.get('p')).toBe(first.requests[0]!);
    memory.sweep();
    expect(memory.requestsOf('group', [a, b], make)).toBe(first);
    memory.sweep();
    expect(memory.requestsOf('group', [a, {}], make)).not.toBe(first);
    memory.sweep();
    memory.sweep();
    memory.requestsOf('group', [a, b], make);
    expect(made).toBe(3);
    expect([areSame([a, b], [a, b]), areSame([a, b], [a]), areSame([a], [a, b]), areSame([a, b], [a, a])]).toEqual([
      true,
      false,
      false,
      false,
    ]);
  });
});

describe('how many connect to a device', () => {
  it('counts each carrier once, and none that stays in its own memory', () => {
    const request = (endpointId: string, carrierId: string | null, local = false) => ({ endpointId, carrierId, local }) as PlannedRequest;
    const requests = [
      request('a', 'x'),
      request('a', 'x'),
      request('a', null),
      request('b', 'y'),
      request('b', 'z', true),
      request('c', 'z', true),
    ];
    expect([...clientsOf(requests)]).toEqual([
      ['a', 2],
      ['b', 1],
    ]);
    expect(clientsOf([]).size).toBe(0);
  });
});

describe('a point that no request can carry', () => {
  const project = new SmallProject();
  const device = project.device('Meter', {
    functionCodes: [3, 6],
    maxReadWords: 2,
    forbidden: [{ table: 'holding', first: 100, last: 109 }],
  });
  const point = (fields: Parameters<SmallProject['point']>[2]) => project.point(device, 'Power', fields);

  it('says why', () => {
    expect(whyNotRead(point({ offset: 10 }), device)).toBeNull();
    const forbidden = 'the device refuses offsets 100 to 109, and the point lies in them.';
    expect([100, 109].map((offset) => whyNotRead(point({ offset }), device))).toEqual([forbidden, forbidden]);
    expect(whyNotRead(point({ offset: 98, type: 'int64' }), device)).toBe(forbidden);
    expect([99, 110].map((offset) => whyNotRead(point({ offset }), device))).toEqual([null, null]);
    expect(whyNotRead(point({ table: 'input', offset: 100 }), device)).toBe('the device does not have function 4, read input registers.');
    expect(whyNotRead(point({ offset: 1, type: 'int64' }), device)).toBe('it takes 4 holding registers; one request reads at most 2.');
    expect(whyNotWritten(point({ offset: 1, access: 'read' }), device)).toBe('Power may only be read.');
    expect(whyNotWritten(point({ offset: 1 }), device)).toBeNull();
    expect(whyNotWritten(point({ offset: 1, type: 'int32' }), device)).toBe(
      'it takes 2 holding registers, and the device does not have function 16, write registers.',
    );
    expect(whyNotWritten(point({ table: 'coil', type: 'bit' }), device)).toBe(
      'the device has neither function 5 nor 15, so its coils cannot be written.',
    );
    expect(whyNotWritten(point({ table: 'input' }), device)).toBe('no function writes input registers.');
  });
});

describe('a write and a read in one transaction', () => {
  /** A controller that writes to a device and reads from it, both in one round. */
  function exchanging(route: Partial<Route> = {}, device: Partial<Device> = {}) {
    const project = new SmallProject();
    const net = project.net();
    const controller = project.controller('Controller', net);
    const drive = project.device('Drive', { functionCodes: [3, 4, 6, 16, 23], ...device });
    project.port(drive, net);
    const round = project.round(500);
    const own = { carrierId: controller.id };
    const speed = project.point(drive, 'Speed', { offset: 100 });
    project.route(project.point(controller, 'Set point', { offset: 1 }), project.point(drive, 'Target', { offset: 200 }), round, {
      ...own,
      ...route,
    });
    project.route(speed, project.point(controller, 'Actual', { offset: 2 }), round, own);
    const { plan } = compile(project.document);
    const of = (offset: number) => plan.requests.find((request) => request.deviceId === drive.id && request.offset === offset)!;
    return { write: of(200), read: of(100), plan };
  }

  it('is made where the device has function 23, each naming the other', () => {
    const { write, read } = exchanging();
    expect([write.functionCode, read.functionCode]).toEqual([23, 23]);
    expect(write.also).toEqual({ id: read.id, offset: 100, count: 1 });
    expect([read.withId, write.withId, read.also]).toEqual([write.id, null, null]);
  });

  it('is not made where it has not, or where the write waits or does not always go out', () => {
    const apart = [
      exchanging({}, { functionCodes: [3, 4, 6, 16] }),
      exchanging({ trigger: { on: 'change', deadband: 0 } }),
      exchanging({ trigger: { on: 'start' } }),
      exchanging({ onlyDifferent: true }),
    ];
    for (const { write, read } of apart) expect([write.also, read.withId, read.functionCode]).toEqual([null, null, 3]);
  });

  it('is not made where the write needs another device, or tells whether a value is good', () => {
    const { write, read, plan } = exchanging();
    const plain = plan.requests.map((request) => ({
      ...{ ...request, also: null, withId: null },
      functionCode: request === read ? 3 : request === write ? 6 : request.functionCode,
    }));
    const ofWrite = plan.routes.find(({ writeId }) => writeId === write.id)!;
    const isJoined = (fields: Partial<typeof ofWrite>) =>
      joinExchanges(plain, [{ ...ofWrite, ...fields }]).some(({ also }) => also !== null);
    expect(isJoined({})).toBeTrue();
    expect(isJoined({ alsoReadIds: [ofWrite.readId] })).toBeTrue();
    expect(isJoined({ readId: read.id })).toBeFalse();
    expect(isJoined({ alsoReadIds: [read.id] })).toBeFalse();
    expect(isJoined({ whileId: 'bit' })).toBeFalse();
    const telling = { valid: { point: ofWrite.destination, writeId: write.id } };
    expect(isJoined({ ...telling, writeId: 'another' })).toBeFalse();
  });

  it('joins each read once, of one device, carrier and round only', () => {
    const { write, read, plan } = exchanging();
    const plain = [write, read].map((request) => ({ ...request, also: null, withId: null, functionCode: request.kind === 'read' ? 3 : 6 }));
    const [one, other] = plain as [PlannedRequest, PlannedRequest];
    const joined = (requests: PlannedRequest[]) =>
      joinExchanges(requests, plan.routes).map(({ also, withId }) => (also ? 'writes' : withId ? 'reads' : 'alone'));
    const own = plan.requests.filter(({ local }) => local);
    expect(joined([...own, one, other]).slice(own.length)).toEqual(['writes', 'reads']);
    const twin = { ...one, id: 'twin' };
    expect(joined([...own, one, twin, other]).slice(own.length)).toEqual(['writes', 'alone', 'reads']);
    for (const fields of [
      { deviceId: 'x' },
      { carrierId: 'x' },
      { roundId: 'x' },
      { pauseMs: 5 },
      { local: true },
      { table: 'input' as const },
      { functionCodes: [3] },
    ])
      expect(joined([...own, one, { ...other, ...fields }]).slice(own.length))
        .withContext(JSON.stringify(fields))
        .toEqual(['alone', 'alone']);
    for (const fields of [
      { partial: 'mask' as const },
      { release: { when: 'after', functionCode: 6, table: 'holding', offset: 1, values: [1] } as const },
    ])
      expect(joined([...own, { ...one, ...fields } as PlannedRequest, other]).slice(own.length)).toEqual(['alone', 'alone']);
  });
});
