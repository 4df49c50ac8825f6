import type { ModbusLine } from '../media/index.js';
import { SmallProject } from '../testing/index.js';
import { standInAddressOf } from '../network/index.js';
import { boundLines, dialOf, dialOnLine, frontOf, standInPort, wayTo, wayToLine } from './index.js';
import { carrierReaches } from './way.js';

/** Two nets, a bus behind a gateway, one bus with nobody who asks. */
function plant() {
  const project = new SmallProject();
  const [net, other] = [project.net('Net'), project.net('Other net', { network: '10.41.9.0/24' })];
  const [bus, alone] = [project.bus('Bus'), project.bus('Lone bus', { framing: 'ascii', baud: 9600 })];
  const controller = project.controller('Controller', net);
  const gateway = project.gateway('Gateway', net, bus);
  const onBus = project.device('On bus');
  project.port(onBus, bus, { unitId: 12 });
  const onNet = project.device('On net');
  project.port(onNet, net, { unitId: 7, tcpPort: 503, framing: 'rtu', standInAddress: '127.40.9.3' });
  const lonely = project.device('Lonely');
  project.port(lonely, alone, { unitId: 3 });
  const elsewhere = project.device('Elsewhere');
  project.port(elsewhere, other);
  return { project, net, other, bus, alone, controller, gateway, onBus, onNet, lonely, elsewhere, document: project.document };
}

describe('a device that cannot be asked', () => {
  const why = (project: SmallProject, device: { id: string }) => {
    const way = wayTo(project.document, device.id);
    return way.ok ? way.value : way.problem.message;
  };

  it('says why', () => {
    const { project, net, bus } = plant();
    const asks = project.device('Asks');
    project.port(asks, net, { role: 'asks' });
    expect(why(project, asks)).toBe('Asks only asks, so it cannot be asked itself.');
    const nowhere = project.device('Nowhere');
    expect(why(project, nowhere)).toBe('Nowhere has no port on any line, so nothing reaches it.');
    const master = project.device('Master');
    project.master(master, project.bus('Own bus'));
    expect(why(project, master)).toBe('Master has no unit ID on Own bus, so it cannot be asked.');
    const text = project.device('Talker');
    project.port(text, project.bus('Text cable', { framing: 'text' }), { unitId: 1 });
    expect(why(project, text)).toBe('Talker speaks text on Text cable, not Modbus.');
    const textPort = project.device('Text port');
    project.port(textPort, bus, { unitId: 1, framing: 'text' });
    expect(why(project, textPort)).toBe('Text port speaks text on Bus, not Modbus.');
    for (const unitId of [0, 248]) {
      const far = project.device(`Unit ${unitId}`);
      project.port(far, bus, { unitId });
      expect(why(project, far)).toBe(`Unit ${unitId} has unit ID ${unitId}, which no device on a serial line can be asked by.`);
    }
    for (const unitId of [1, 247]) {
      const near = project.device(`Unit ${unitId}`);
      project.port(near, bus, { unitId });
      expect(why(project, near)).toEqual(jasmine.objectContaining({ unitId }));
    }
    const lost = project.device('Lost');
    project.port(lost, bus, { unitId: 9, lineId: net.id });
    expect(why(project, lost)).toBe('Lost is on no serial line, so nothing reaches it.');
    const turner = project.device('Turner');
    const position = { id: turner.id, projectId: turner.projectId, deviceId: turner.id, lineId: net.id, position: 0, setHow: '' };
    project.document.ports.push({ ...position, kind: 'can', bitrate: 250_000, atM: 0, terminated: true });
    expect(why(project, turner)).toBe('Turner is on a line that carries no Modbus, so it is reached only through its converter.');
    expect(why(project, { id: 'gone' })).toBe('This device has no port on any line, so nothing reaches it.');
  });
});

describe('a device that can be asked', () => {
  it('is, by its own address or through who asks on its line', () => {
    const { project, net, document, onNet, onBus, lonely, gateway, alone } = plant();
    const direct = project.device('Direct');
    project.port(direct, net, { openTransactions: 6 });
    const way = (device: { id: string }) => {
      const found = wayTo(document, device.id);
      if (!found.ok) throw new Error(found.problem.message);
      return found.value;
    };
    expect(way(onNet)).toEqual({
      asked: onNet,
      endpoint: {
        ...{ id: onNet.id, name: 'On net', via: 'ethernet', framing: 'rtu', ip: '10.40.9.3', tcpPort: 503 },
        ...{ standInAddress: '127.40.9.3', concurrent: 1, bound: null },
      },
      unitId: 7,
      front: null,
      broadcastOn: null,
    });
    expect(way({ id: direct.id }).endpoint.concurrent).toBe(6);
    const behind = way(onBus);
    expect([behind.unitId, behind.endpoint.id, behind.endpoint.concurrent, behind.front?.device.id]).toEqual([
      12,
      gateway.id,
      1,
      gateway.id,
    ]);
    const settings = { baud: 9600, dataBits: 8, parity: 'even', stopBits: 1 } as const;
    expect(way(lonely)).toEqual({
      asked: lonely,
      endpoint: { id: alone.id, name: 'Lone bus', concurrent: 1, via: 'line', framing: 'ascii', settings, bound: null },
      unitId: 3,
      front: null,
      broadcastOn: alone as ModbusLine,
    });
  });

  it('is dialled where the target says', () => {
    const { document, onNet, bus } = plant();
    const way = wayTo(document, onNet.id);
    const { endpoint } = (way as Extract<typeof way, { ok: true }>).value;
    expect(dialOf(endpoint, 'real', 1502)).toEqual({ kind: 'socket', framing: 'rtu', host: '10.40.9.3', port: 503 });
    expect(dialOf(endpoint, 'stand-ins', 1502)).toEqual({ kind: 'socket', framing: 'rtu', host: '127.40.9.3', port: 1503 });
    expect(dialOf({ ...endpoint, standInAddress: null } as never, 'stand-ins', 1502)).toEqual({
      kind: 'nowhere',
      why: 'it has no stand-in, and the bench runs on stand-ins only.',
    });
    const line = bus as ModbusLine;
    const settings = { baud: 4800, dataBits: 8, parity: 'none', stopBits: 2 } as const;
    expect(dialOnLine(line, settings, 'stand-ins')).toEqual({ kind: 'adapter', framing: 'rtu', lineId: bus.id, settings });
    expect(dialOnLine(line, settings, 'real')).toEqual({ kind: 'nowhere', why: 'Bus is not bound to a serial port of this machine.' });
    expect(dialOnLine({ ...line, boundTo: '/dev/ttyS1', localEcho: 'cut away' }, settings, 'real')).toEqual({
      kind: 'serial',
      framing: 'rtu',
      path: '/dev/ttyS1',
      settings,
      cutsEcho: true,
    });
    const onLine = wayToLine({ devices: [], ports: [] }, line).endpoint;
    expect(dialOf(onLine, 'real', 1502)).toEqual({
      kind: 'nowhere',
      why: 'it is bound to no serial port of this machine; bind it in Lines.',
    });
    const { baud, dataBits, parity, stopBits } = line;
    expect(dialOf(onLine, 'stand-ins', 1502)).toEqual({
      ...{ kind: 'adapter', framing: 'rtu', lineId: bus.id },
      settings: { baud, dataBits, parity, stopBits },
    });
  });

  it('has its stand-in at an address and a port that follow from its own', () => {
    expect(standInAddressOf('10.40.8.10')).toBe('127.40.8.10');
    expect(standInAddressOf('192.168.8.10')).toBe('127.168.8.10');
    expect([502, 503, 501, 1502].map((port) => standInPort(port, 15_020))).toEqual([15_020, 15_021, 15_019, 16_020]);
    expect([502, 503, 501].map((port) => standInPort(port, 65_535))).toEqual([65_535, 1024, 65_534]);
    expect([501, 502].map((port) => standInPort(port, 1024))).toEqual([65_535, 1024]);
  });
});

describe('a carrier', () => {
  it('reaches what is on a line that it asks on, or behind a gateway there', () => {
    const { project, net, other, bus, document, controller, onBus, onNet, elsewhere, lonely, gateway } = plant();
    const reaches = (device: { id: string }, carrier = controller) => carrierReaches(document, carrier.id, device.id);
    expect([controller, onBus, onNet, gateway].map((device) => reaches(device))).toEqual([null, null, null, null]);
    expect(reaches(elsewhere)).toBe('No line that Controller asks on leads to Elsewhere.');
    expect(reaches(lonely)).toBe('No line that Controller asks on leads to Lonely.');
    expect(reaches(onBus, onNet)).toBe('On net has no port that asks, so it cannot reach On bus.');
    expect(reaches(onBus, gateway)).toBeNull();
    const onlyAsked = project.device('Only asked');
    project.port(onlyAsked, net, { role: 'answers' });
    expect(reaches(onNet, onlyAsked)).toBe('Only asked has no port that asks, so it cannot reach On net.');
    expect(reaches(lonely, onBus)).toBe('On bus has no port that asks, so it cannot reach Lonely.');
    const both = project.device('Both');
    project.port(both, other);
    project.port(both, bus, { unitId: 13 });
    expect(reaches(both)).withContext('one of its ports is enough').toBeNull();
    expect(carrierReaches(document, 'gone', onBus.id)).toBe('it has no port that asks, so it cannot reach On bus.');
  });
});

describe('who asks on a line', () => {
  it('is a gateway or a converter with an address, and no controller', () => {
    const { project, bus, alone, gateway, controller, net, document } = plant();
    expect(frontOf(document, bus.id)?.device.id).toBe(gateway.id);
    expect(frontOf(document, alone.id)).toBeNull();
    project.master(controller, alone);
    expect(frontOf(document, alone.id)).withContext('a controller passes nothing on').toBeNull();
    const third = project.bus('Third');
    const converter = project.device('Converter', { kind: 'converter' });
    project.master(converter, third);
    expect(frontOf(document, third.id)).withContext('without an address').toBeNull();
    project.port(converter, net);
    expect(frontOf(document, third.id)?.device.id).toBe(converter.id);
  });

  it('is this machine where a serial port is bound', () => {
    const { document, bus, project } = plant();
    expect(boundLines(document)).toEqual([]);
    const bound = { ...bus, boundTo: '/dev/ttyUSB0' };
    const [first] = boundLines({ lines: [project.net(), bound] });
    expect([first?.id, first?.boundTo]).toEqual([bus.id, '/dev/ttyUSB0']);
    expect(wayToLine(document, bound as ModbusLine).endpoint.bound).toEqual({
      path: '/dev/ttyUSB0',
      cutsEcho: false,
      framing: 'rtu',
      settings: { baud: 19_200, dataBits: 8, parity: 'even', stopBits: 1 },
    });
  });
});
