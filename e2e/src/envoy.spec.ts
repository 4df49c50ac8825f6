import { rmSync } from 'node:fs';
import { fernhollow } from '@plain-envoy/core/demo';
import { pointWidth } from '@plain-envoy/core/model';
import { clientOf } from './modbus.js';
import { envoy, eventually, isAlive, startEnvoy } from './start.js';

describe('./envoy', () => {
  it('reckons and compiles without database or browser', async () => {
    const range = await envoy(['reckon', 'range'], '{"first":0,"last":87}');
    expect([range.code, (JSON.parse(range.output) as { count: number }).count]).toEqual([0, 88]);
    const wrong = await envoy(['reckon', 'range'], '{"first":0}');
    expect([wrong.code, (JSON.parse(wrong.output) as { error: { message: string } }).error.message]).toEqual([
      2,
      jasmine.stringContaining('two of') as never,
    ]);
    const unknown = await envoy(['reckon', 'rang']);
    expect([unknown.code, unknown.output]).toEqual([2, jasmine.stringContaining('“range”') as never]);
    expect((await envoy(['reckon', '--list'])).output).toContain('"name":"checksum"');
    const missing = await envoy(['compile', '/nowhere/project.json']);
    expect([missing.code, missing.output]).toEqual([2, jasmine.stringContaining('cannot be read') as never]);
  });

  it('ends everything that it started on Ctrl+C, and says what a second start needs', async () => {
    const start = await startEnvoy();
    const { pid, server } = start.notes();
    const again = await envoy(['start', '--data', start.data, '--port', String(start.port)]);
    expect([again.code, again.errors]).toEqual([1, jasmine.stringContaining('already runs') as never]);
    const otherData = `${start.data}-b`;
    const elsewhere = await envoy(['start', '--data', otherData, '--port', String(start.port)]);
    expect([elsewhere.code, elsewhere.errors]).toEqual([1, jasmine.stringContaining('--port N') as never]);
    rmSync(otherData, { recursive: true, force: true });
    expect(await start.stop()).toBe(0);
    expect([isAlive(pid), isAlive(server)]).toEqual([false, false]);
    await expectAsync(fetch(start.address)).toBeRejected();
  }, 90_000);

  it('leaves no value in a stand-in that nobody wrote, when the server is killed amid a run', async () => {
    const start = await startEnvoy();
    const project = '019aa000-0000-7000-8000-000000000001';
    const post = { method: 'POST', headers: { 'content-type': 'application/json' }, body: '{}' };
    await fetch(`${start.address}/api/projects/${project}/bench/run`, post);
    const north = await clientOf('127.40.8.30', start.standInsPort, 11);
    await eventually('a fan that was told to run', async () => (await north.readHoldingRegisters(0, 2)).data.join() === '3,412');
    const victim = start.notes().server;
    process.kill(victim, 'SIGKILL');
    await eventually('the server started again', () => start.notes().server !== victim && isAlive(start.notes().server));

    const controller = await clientOf('127.40.8.10', start.standInsPort, 255);
    const words: number[] = [];
    for (let at = 0; at < 500; at += 100) words.push(...(await controller.readHoldingRegisters(at, 100)).data);
    // What routes write there, and what its own program does.
    const written = new Set([50, 64, 65, 74, 75, 84, 85, 90, 91, 92, 105, 132, ...destinationsIn('Kiln controller', 'holding')]);
    expect(words.flatMap((word, offset) => (word && !written.has(offset) ? [offset] : []))).toEqual([]);
    expect([0, 204117]).toContain(words[46]! + words[47]! * 65536);
    const coils = new Set([11, ...destinationsIn('Kiln controller', 'coil')]);
    const on = (await controller.readCoils(0, 500)).data;
    expect(on.flatMap((set, offset) => (set && !coils.has(offset) ? [offset] : []))).toEqual([]);
    controller.close(() => undefined);

    expect((await north.readHoldingRegisters(0, 2)).data).toEqual([0b11, 412]);
    north.close(() => undefined);
    await start.stop();
  }, 90_000);
});

/** The registers or coils of a device of the demo that some route writes, or in which it tells whether its value is good. */
function destinationsIn(name: string, table: string): number[] {
  const demo = fernhollow();
  const points = new Map(demo.points.map((point) => [point.id, point]));
  const owner = demo.devices.find((device) => device.name === name)!.id;
  return demo.routes
    .flatMap(({ destinationId, loss }) => [destinationId, ...(loss.validId ? [loss.validId] : [])])
    .map((id) => points.get(id)!)
    .filter((point) => point.deviceId === owner && point.table === table)
    .flatMap((point) => Array.from({ length: pointWidth(point) }, (_, index) => point.offset + index));
}
