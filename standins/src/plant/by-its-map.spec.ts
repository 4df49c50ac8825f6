import { noIdentification } from '@plain-envoy/core/identity';
import { BY_ITS_MAP, type Device } from '@plain-envoy/core/model';
import { type Wiring, wiringOf } from '@plain-envoy/core/playing';
import { SmallProject } from '@plain-envoy/core/testing';
import { TcpTransport } from '@plain-envoy/engine/links';
import { freePort } from './free-port.spec-helper.js';
import { Plant } from './index.js';

const PATIENCE_MS = 300;

describe('a device of which there is a map alone', () => {
  let project: SmallProject;
  let device: Device;
  let plant: Plant;
  let transport: TcpTransport;

  const wiring = (changed: Partial<Device> = {}): Wiring => wiringOf({ ...project.document, devices: [{ ...device, ...changed }] });
  /** What it answers, in hex; null where nothing comes. */
  const ask = async (...pdu: number[]) => {
    const ended = await transport.exchange(255, Uint8Array.from(pdu), PATIENCE_MS);
    return ended.kind === 'answer' ? Buffer.from(ended.pdu).toString('hex') : null;
  };

  beforeEach(async () => {
    project = new SmallProject();
    const net = project.net();
    device = project.device('Dosing pump', { standIn: BY_ITS_MAP, readAcrossHoles: false });
    const { standInAddress } = project.port(device, net);
    project.point(device, 'Flow', { offset: 10, type: 'float32' });
    project.point(device, 'Set point', { offset: 20 });
    const port = await freePort(standInAddress!);
    plant = new Plant(wiring(), port);
    await plant.start();
    transport = new TcpTransport(standInAddress!, port);
  });
  afterEach(async () => {
    transport.close();
    await plant.stop();
  });

  it('has the registers of its map and no others, and holds what is written', async () => {
    expect(await ask(3, 0, 10, 0, 2)).toBe('030400000000');
    expect(await ask(6, 0, 20, 1, 44)).toBe('060014012c');
    expect(await ask(3, 0, 20, 0, 1)).toBe('0302012c');
    expect(await ask(3, 0, 12, 0, 1)).toBe('8302');
    expect(await ask(4, 0, 10, 0, 1)).toBe('8402');
  });

  it('follows its map while it is edited, and forgets nothing', async () => {
    await ask(6, 0, 20, 1, 44);
    project.point(device, 'Pressure', { offset: 30 });
    await plant.rewire(wiring());
    expect([await ask(3, 0, 30, 0, 1), await ask(3, 0, 20, 0, 1)]).toEqual(['03020000', '0302012c']);
    project.document.points.pop();
    await plant.rewire(wiring({ readAcrossHoles: true }));
    expect([await ask(3, 0, 30, 0, 1), await ask(3, 0, 10, 0, 11)]).toEqual(['8302', `0316${'0000'.repeat(10)}012c`]);
  });

  it('says of itself what its device says, and who plays it where that is not known', async () => {
    const hex = (text: string) => Buffer.from(text).toString('hex');
    await plant.rewire(wiring({ functionCodes: [3, 43] }));
    expect(await ask(43, 14, 1, 0)).toContain(hex('Plain Envoy'));
    const identification = { ...noIdentification, vendorName: 'Works', productCode: 'P-4', revision: '1.2' };
    await plant.rewire(wiring({ functionCodes: [3, 43], identification }));
    const said = await ask(43, 14, 1, 0);
    for (const text of ['Works', 'P-4', '1.2']) expect(said).toContain(hex(text));
    expect(said).not.toContain(hex('Plain Envoy'));
  });

  it('has no registers of its own once it is a gateway', async () => {
    await plant.rewire(wiring({ kind: 'gateway' }));
    expect(plant.member(device.id)!.standIn).toBeNull();
    await plant.rewire(wiring());
    expect(await ask(3, 0, 20, 0, 1)).toBe('03020000');
  });

  it('has the function codes and limits that it is said to have, and loses what it is said to lose', async () => {
    await plant.rewire(wiring({ functionCodes: [3], maxReadWords: 1 }));
    expect([await ask(6, 0, 20, 0, 1), await ask(3, 0, 10, 0, 2), await ask(3, 0, 10, 0, 1)]).toEqual(['8601', '8303', '03020000']);
    await plant.rewire(wiring({ lossPercent: 100 }));
    expect(await ask(3, 0, 20, 0, 1)).toBeNull();
    await plant.rewire(wiring());
    expect(await ask(3, 0, 20, 0, 1)).toBe('03020000');
  });
});
