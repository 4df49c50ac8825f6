import { compile } from '../../compile/index.js';
import { fernhollow } from '../../demo/index.js';
import type { Device } from '../../model/index.js';
import { SmallProject } from '../../testing/index.js';

/** A device on a net, and one behind a gateway on a bus at 9600 baud. */
function plant(direct: Partial<Device> = {}, behind: Partial<Device> = {}, gateway: Partial<Device> = {}) {
  const project = new SmallProject();
  const [net, bus] = [project.net(), project.bus('Bus', { baud: 9600 })];
  project.gateway('Gateway', net, bus, { timeoutMs: 250, delayMs: 1, ...gateway });
  project.port(project.device('Direct', { timeoutMs: 1000, delayMs: 5, ...direct }), net);
  project.port(project.device('Behind', { timeoutMs: 1000, delayMs: 5, ...behind }), bus);
  const { findings } = compile(project.document);
  return findings.filter(({ check }) => check === 'timeout-below-delay' || check === 'gateway-outwaits');
}

describe('timeouts that cannot be right', () => {
  it('are none where everybody waits long enough, as in the demo', () => {
    expect(plant()).toEqual([]);
    const { findings } = compile(fernhollow());
    expect(findings.filter(({ check }) => check === 'timeout-below-delay' || check === 'gateway-outwaits')).toEqual([]);
  });

  it('give a device up before it can have answered', () => {
    const [found, ...more] = plant({ delayMs: 1000 });
    expect([found?.check, found?.severity, found?.at.field, more.length]).toEqual(['timeout-below-delay', 'stop', 'timeoutMs', 0]);
    expect(found!.message).toContain('Direct takes 1000 ms before it answers, 1000 ms in all. It is given up after 1000 ms');
    expect(plant({ delayMs: 999 })).toEqual([]);
  });

  it('are those of the gateway where one asks, and count what the answer takes on the line', () => {
    const [found] = plant({}, { delayMs: 240 });
    expect(found?.message).toContain(
      'Behind takes 240 ms before it answers, 257 ms in all, with the shortest answer on Bus. Gateway gives it up after 250 ms',
    );
    expect(plant({}, { delayMs: 230 })).toEqual([]);
  });

  it('let who asks give up before the gateway does', () => {
    const [found, ...more] = plant({}, { timeoutMs: 260 });
    expect([found?.check, found?.severity, more.length]).toEqual(['gateway-outwaits', 'warning', 0]);
    expect(found!.message).toContain('Gateway waits 250 ms for Behind, 261 ms with the question; whoever asks gives up after 260 ms.');
    expect(plant({}, { timeoutMs: 262 })).toEqual([]);
  });
});
