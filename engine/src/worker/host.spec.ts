import { fernhollow } from '@plain-envoy/core/demo';
import { ModbusTcpServer } from '../server/index.js';
import { EngineEnded, EngineHost } from './index.js';
import { compile, compileWrite, type HandWrite } from '@plain-envoy/core/compile';

describe('EngineHost', () => {
  const demo = fernhollow();
  const { plan } = compile(demo);
  const kiln = demo.devices.find(({ name }) => name === 'Kiln controller')!;
  const point = demo.points.find(({ name, deviceId }) => name === 'Damper set point' && deviceId === kiln.id)!;

  it('keeps nobody waiting whose answer cannot come any more, because the thread has ended', async () => {
    let hear: () => void;
    const heard = new Promise<void>((done) => (hear = done));
    const silent = new ModbusTcpServer(() => (hear(), null), { host: '127.40.8.10', port: 0, connections: 2 });
    await silent.start();
    const crashed: Error[] = [];
    const host = new EngineHost(
      () => undefined,
      (error) => crashed.push(error),
      () => Promise.reject(new Error('Nobody asks for a simulated line.')),
    );
    host.start({ ...plan, requests: [], routes: [] }, 'stand-ins', silent.port);
    const compiled = compileWrite(demo, point) as { ok: true; value: HandWrite };
    const { request } = compiled.value;
    const patient = { ...compiled.value, request: { ...request, timeoutMs: 50_000 } };
    const written = host.write(patient, [734]);
    await heard;
    void host.end();
    await expectAsync(written).toBeRejectedWithError(EngineEnded);
    await expectAsync(host.trace({}, { upTo: null, from: 0, count: 1 })).toBeRejectedWithError(EngineEnded);
    expect(crashed).toEqual([]);
    await silent.stop();
  });
});
