import type { EthernetPort } from '@plain-envoy/core/media';
import { type Wiring, wiringOf } from '@plain-envoy/core/playing';
import { BY_ITS_MAP } from '@plain-envoy/core/model';
import { SmallProject } from '@plain-envoy/core/testing';
import { createServer } from 'node:net';
import { freePort } from './free-port.spec-helper.js';
import { Plants } from './index.js';

describe('the stand-ins of several projects', () => {
  let first: number;
  let plants: Plants;
  let wiring: Wiring;
  let device: string;

  const listens = (port: number) =>
    new Promise<boolean>((done) => {
      const server = createServer().once('error', () => done(true));
      server.listen(port, '127.93.7.5', () => server.close(() => done(false)));
    });

  beforeEach(async () => {
    first = await freePort('127.93.7.5');
    plants = new Plants(first);
    const small = new SmallProject();
    const drive = small.device('Drive', { standIn: BY_ITS_MAP });
    device = drive.id;
    small.port(drive, small.net('Net', { network: '10.93.7.0/24' }), { ip: '10.93.7.5', standInAddress: '127.93.7.5' });
    small.point(drive, 'Command', { offset: 0 });
    wiring = wiringOf(small.document);
  });
  afterEach(() => plants.endAll());

  it('listen at ports of their own where their addresses are the same, and give them up', async () => {
    const [one, two] = [await plants.play('one', wiring), await plants.play('two', wiring)];
    expect(one).toBe(first);
    expect(two).not.toBe(first);
    plants.get('one')!.member(device)!.standIn!.bank.set('holding', 0, 7);
    expect(plants.get('two')!.member(device)!.standIn!.bank.get('holding', 0)).not.toBe(7);
    await plants.end('one');
    expect([await listens(one), await listens(two)]).toEqual([false, true]);
    expect(await plants.play('three', wiring)).toBe(first);
  });

  it('pass by a port that somebody else has, and stay where they are when they are set again', async () => {
    const other = createServer();
    await new Promise<void>((done) => other.listen(first, '127.93.7.5', done));
    const port = await plants.play('one', wiring);
    expect(port).not.toBe(first);
    await new Promise((done) => other.close(done));
    expect(await plants.play('one', wiring)).toBe(port);
  });

  it('move on with all they hold where an edit brings them in the way of another project', async () => {
    const [one, two] = [await plants.play('one', wiring), await plants.play('two', wiring)];
    plants.get('two')!.member(device)!.standIn!.bank.set('holding', 0, 9);
    const ports = wiring.ports.map((port) => ({ ...(port as EthernetPort), tcpPort: 502 - (two - one) }));
    const moved = await plants.play('two', { ...wiring, ports });
    expect(moved).not.toBe(two);
    expect(plants.get('two')!.member(device)!.standIn!.bank.get('holding', 0)).toBe(9);
  });

  it('of one project that get in each other’s way are said to, and the rest answers', async () => {
    const twin = { ...wiring.devices[0]!, id: '019aa000-0000-7000-8000-00000000aaaa', name: 'Twin' };
    const port = { ...wiring.ports[0]!, id: '019aa000-0000-7000-8000-00000000aaab', deviceId: twin.id };
    const both = { ...wiring, devices: [...wiring.devices, twin], ports: [...wiring.ports, port] };
    await expectAsync(plants.play('one', both)).toBeRejectedWith(jasmine.objectContaining({ code: 'EADDRINUSE' }));
    expect(await listens(first)).toBeTrue();
  });
});
