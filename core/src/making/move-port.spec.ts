import type { EthernetPort, SerialPort } from '../media/index.js';
import { SmallProject } from '../testing/index.js';
import { movePort } from './index.js';

describe('A port that is moved to another line', () => {
  function plant() {
    const project = new SmallProject();
    const [one, other, net] = [project.bus('One'), project.bus('Other', { baud: 19_200 }), project.net()];
    const [drive, twin, block] = ['Drive', 'Twin', 'Block'].map((name) => project.device(name)) as [never, never, never];
    const port = project.port(drive, one, { unitId: 7, baud: 38_400, atM: 12 });
    return { project, one, other, net, port, twin, block };
  }

  it('stays as it was set, and keeps its place where that is free', () => {
    const { project, other, port } = plant();
    const moved = movePort(project.document, port, other.id);
    expect(moved.ok && (moved.value.after as SerialPort)).toEqual({ ...port, lineId: other.id, position: 0 });
  });

  it('takes the next place where its own is taken, and comes last', () => {
    const { project, other, port, twin } = plant();
    project.port(twin, other, { unitId: 7 });
    const moved = movePort(project.document, port, other.id);
    const after = moved.ok ? (moved.value.after as SerialPort) : null;
    expect([after?.position, after?.baud]).toEqual([1, 38_400]);
    expect(after?.unitId).not.toBe(7);
  });

  it('does not become a port of another kind, nor go nowhere', () => {
    const { project, one, net, port } = plant();
    const why = (lineId: string) => {
      const moved = movePort(project.document, port, lineId);
      return moved.ok ? null : moved.problem.message;
    };
    expect(why(net.id)).toBe('Net is a line of another kind. Hang the device on it, and take this port off its line.');
    expect([why(one.id), why('gone')]).toEqual(['Choose another line.', 'Choose another line.']);
  });

  it('has an address of its own on another network', () => {
    const { project, net, block } = plant();
    const far = project.net('Far', { network: '10.9.0.0/24' });
    const port = project.port(block, net, {});
    const moved = movePort(project.document, port, far.id);
    expect(moved.ok && (moved.value.after as EthernetPort).lineId).toBe(far.id);
  });
});
