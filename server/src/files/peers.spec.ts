import { SmallProject } from '@plain-envoy/core/testing';
import { peersOf } from './index.js';

describe('where exchanges of a capture went', () => {
  it('is known of every device that can be asked, whether or not a route reaches it', () => {
    const project = new SmallProject();
    const [net, bus, alone] = [project.net(), project.bus(), project.bus('Alone')];
    const gateway = project.gateway('Gateway', net, bus);
    const direct = project.device('Direct');
    project.port(direct, net, { tcpPort: 503 });
    for (const [name, line] of [
      ['Behind', bus],
      ['Lonely', alone],
    ] as const)
      project.port(project.device(name), line, { unitId: 5 });
    const asks = project.device('Only asks');
    project.port(asks, net, { role: 'asks' });
    const peer = peersOf(project.document);
    const ip = (device: { id: string }) => project.document.ports.find((port) => port.kind === 'ethernet' && port.deviceId === device.id);
    expect(peer(direct.id)).toEqual({ ip: (ip(direct) as { ip: string }).ip, port: 503 });
    expect(peer(gateway.id)).toEqual({ ip: (ip(gateway) as { ip: string }).ip, port: 502 });
    expect(peer(alone.id)?.ip).toMatch(/^127\.0\.1\.\d+$/);
    expect([peer(asks.id), peer('gone')]).toEqual([null, null]);
  });
});
