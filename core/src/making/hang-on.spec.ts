import type { EthernetLine, SerialLine } from '../media/index.js';
import type { Device } from '../model/index.js';
import { SmallProject } from '../testing/index.js';
import { hangOn } from './index.js';

describe('a device that is hung on a line', () => {
  let project: SmallProject;
  let net: EthernetLine;
  let bus: SerialLine;
  let gateway: Device;
  beforeEach(() => {
    project = new SmallProject();
    [net, bus] = [project.net(), project.bus()];
    project.port(project.device('Meter'), bus, { unitId: 7 });
    gateway = project.device('Gateway', { kind: 'gateway' });
  });
  const hung = (lineId: string, asks = false) => {
    const outcome = hangOn(project.document, { deviceId: gateway.id, lineId, asks, newId: () => '019aa000-0000-7000-8000-0000000000ff' });
    return outcome.ok ? (outcome.value.after as Record<string, unknown>) : outcome.problem;
  };

  it('has a port that is set as the line is, at the next free place', () => {
    expect(hung(bus.id)).toEqual(jasmine.objectContaining({ deviceId: gateway.id, unitId: 8, baud: bus.baud, position: 1 }));
    expect(hung(bus.id, true)).toEqual(jasmine.objectContaining({ unitId: null }));
    expect(hung(net.id, true)).toEqual(jasmine.objectContaining({ kind: 'ethernet', ip: '10.40.9.1', standInAddress: '127.40.9.1' }));
  });

  it('is refused where there is no such line, or no place on it', () => {
    expect(hung('')).toEqual(jasmine.objectContaining({ path: ['lineId'] }));
    for (let unit = 1; unit <= 247; unit++) if (unit !== 7) project.port(project.device(`Meter ${unit}`), bus, { unitId: unit });
    expect(hung(bus.id)).toEqual(jasmine.objectContaining({ message: 'Bus has no free unit ID left.', path: ['lineId'] }));
    expect(hung(bus.id, true)).toEqual(jasmine.objectContaining({ unitId: null }));
  });
});
