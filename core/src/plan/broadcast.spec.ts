import { compile, compileInquiry, compileWrite } from '../compile/index.js';
import { durationsOf } from '../forecast/index.js';
import { lineTime } from '../line/index.js';
import type { ModbusLine } from '../media/index.js';
import type { Device, Route } from '../model/index.js';
import { SmallProject } from '../testing/index.js';
import { alsoReached, describeRequest, requestSheets, wayTo, whyNotBroadcast } from './index.js';

/** A controller on a net, and behind a gateway two drives on a bus whose set points lie alike. */
function plant(fields: { passes?: boolean; route?: Partial<Route>; codes?: number[]; bit?: number | null } = {}) {
  const project = new SmallProject();
  const [net, bus] = [project.net(), project.bus('Bus', { turnaroundMs: 120 })];
  const controller = project.controller('Controller', net);
  const gateway = project.gateway('Gateway', net, bus);
  const master = project.document.ports.find(({ deviceId, kind }) => deviceId === gateway.id && kind === 'serial')!;
  if (master.kind === 'serial' && fields.passes !== false) master.forwardedUnits = [{ first: 0, last: 20 }];
  const drive = (name: string) => {
    const device = project.device(name, { delayMs: 15, tries: 3, functionCodes: fields.codes ?? [3, 6, 16] });
    project.port(device, bus);
    return device;
  };
  const [one, other] = [drive('One'), drive('Other')];
  const to = project.point(one, 'Set point', { offset: 7, ...(fields.bit === undefined ? {} : { type: 'bit', bit: fields.bit }) });
  const source = project.point(controller, 'Wanted', { offset: 1, ...(fields.bit === undefined ? {} : { type: 'bit', bit: fields.bit }) });
  const route = project.route(source, to, project.round(500), { broadcast: true, ...fields.route });
  return { project, bus: bus as ModbusLine, gateway, controller, one, other, to, route, document: project.document };
}

const findings = ({ document }: { document: Parameters<typeof compile>[0] }, ...checks: string[]) =>
  compile(document).findings.filter(({ check }) => checks.includes(check));
const wayOf = (document: Parameters<typeof wayTo>[0], { id }: Device) => {
  const way = wayTo(document, id);
  if (!way.ok) throw new Error(way.problem.message);
  return way.value;
};

describe('a route that is written to every unit', () => {
  it('becomes one write to unit 0, once, and waits for the turnaround alone', () => {
    const { document, bus, project, other } = plant();
    project.point(other, 'Set point', { offset: 7 });
    const { plan, findings: all } = compile(document);
    const request = plan.requests.find(({ kind }) => kind === 'write')!;
    expect(request).toEqual(jasmine.objectContaining({ unitId: 0, functionCode: 6, offset: 7, tries: 1, delayMs: 0 }));
    const { requestMs } = lineTime({ settings: bus, framing: 'rtu', functionCode: 6, count: 1 });
    expect(request.broadcast!.waitMs)
      .withContext('the gateway sends it first')
      .toBeCloseTo(requestMs + 120, 6);
    expect(all.filter(({ check }) => check.includes('broadcast'))).toEqual([]);
    expect(describeRequest(request, plan.endpoints)).toContain(
      'writes 1 holding register at offset 7 of every unit beside One through Gateway',
    );
    const row = requestSheets(document, plan)[0]!.rows.find(({ requestId }) => requestId === request.id)!;
    expect([row.unitId, row.device, row.expectedMs]).toEqual([0, 'every unit of Bus', Math.round((requestMs + 120) * 10) / 10]);
    expect(row.why.join(' ')).toContain('Unit 0 is every unit of the line');
    const duration = durationsOf(document, plan.requests).get(request.id)!;
    expect(duration.answeredMs)
      .withContext('in the forecast')
      .toBeGreaterThanOrEqual(requestMs + 120);
    expect(duration.loss).toBe(0);
  });

  it('never shares a request with what is written to one unit', () => {
    const { document, project, one, controller } = plant();
    const round = document.rounds[0]!;
    project.route(project.point(controller, 'Alone', { offset: 2 }), project.point(one, 'Own', { offset: 8 }), round);
    const writes = compile(document).plan.requests.filter(({ kind }) => kind === 'write');
    expect(writes.map(({ unitId, offset, count }) => [unitId, offset, count]).sort()).toEqual([
      [0, 7, 1],
      [1, 8, 1],
    ]);
    expect(new Set(writes.map(({ id }) => id)).size).toBe(2);
  });

  it('is refused, with what would mend it, where no broadcast gets there', () => {
    const [found] = findings(plant({ passes: false }), 'no-broadcast');
    expect(found!.message).toContain('Gateway is not said to pass unit 0 on: to it, unit 0 is itself.');
    expect(found!.fixes[0]?.label).toBe('Write to this device alone');
    const { project, controller, document } = plant();
    const net = document.lines[0]!;
    const direct = project.device('Direct');
    project.port(direct, net as Parameters<typeof project.port>[1]);
    const point = project.point(direct, 'There', { offset: 1 });
    project.route(document.points[1]!, point, document.rounds[0]!, { broadcast: true });
    project.route(document.points[1]!, project.point(controller, 'Own', { offset: 3 }), document.rounds[0]!, {
      broadcast: true,
      carrierId: controller.id,
    });
    expect(findings({ document }, 'no-broadcast').map(({ message }) => message)).toEqual([
      jasmine.stringContaining('Direct is on Ethernet, and there is a broadcast on serial lines only.') as never,
      jasmine.stringContaining('it goes to the memory of Controller') as never,
    ]);
  });

  it('needs function 22 for single bits, as nobody answers a read before', () => {
    const { document, one, to } = plant({ bit: 3 });
    expect(findings({ document }, 'no-broadcast')[0]?.message).toContain('without function 22');
    expect(whyNotBroadcast(to, one, wayOf(document, one), false)).toBeNull();
    expect(findings(plant({ bit: 3, codes: [3, 6, 16, 22] }), 'no-broadcast')).toEqual([]);
  });

  it('warns of devices that have something else at that place, or nothing that is known', () => {
    const { document, project, other, to } = plant();
    const told = () => findings({ document }, 'broadcast-elsewhere').map(({ message }) => message);
    expect(told()[0]).toContain('do not have Set point at offset 7: Other (no point there).');
    const there = project.point(other, 'Alarm limit', { offset: 7 });
    expect(told()[0]).toContain('Other (Alarm limit).');
    there.name = 'Set point';
    expect(told()).toEqual([]);
    expect(alsoReached(document, to).map(({ device }) => device.name)).toEqual(['Other']);
  });

  it('goes out on the line itself, with the turnaround and no more, where nobody stands between', () => {
    const { project, document } = plant();
    const lone = project.bus('Lone', { turnaroundMs: 80 });
    const device = project.device('Lonely');
    project.port(device, lone);
    const point = project.point(device, 'There', { offset: 2 });
    const write = compileWrite(document, point, true);
    expect(write.ok && [write.value.request.unitId, write.value.request.broadcast]).toEqual([0, { waitMs: 80 }]);
    const alone = compileWrite(document, point);
    expect(alone.ok && [alone.value.request.unitId, alone.value.request.broadcast]).toEqual([1, null]);
    const refused = compileWrite(plant({ passes: false }).document, plant({ passes: false }).to, true);
    expect(refused.ok).toBeFalse();
  });
});

describe('a question that reaches no register', () => {
  it('goes the way of its device, and not over Ethernet where the standard has it on serial lines only', () => {
    const { document, one, controller, gateway } = plant();
    const asked = compileInquiry(document, one.id, { functionCode: 11 });
    expect(asked.ok && [asked.value.endpoint.id, asked.value.unitId, asked.value.tries]).toEqual([gateway.id, 1, 3]);
    const refused = compileInquiry(document, controller.id, { functionCode: 11 });
    expect(!refused.ok && refused.problem.message).toBe(
      'Function 11, read event counter, is for serial lines only, and Controller is asked over Ethernet.',
    );
    expect(compileInquiry(document, controller.id, { functionCode: 43, level: 'basic', object: 0 }).ok).toBeTrue();
    expect(compileInquiry(document, 'gone', { functionCode: 11 }).ok).toBeFalse();
  });
});
