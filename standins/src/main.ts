import { randomBytes } from 'node:crypto';
import { parseArgs } from 'node:util';
import { allowOnly, controlInterface } from './control/index.js';
import { Plants } from './plant/index.js';
import { inBackground } from '@plain-envoy/engine/background';

/** Starts the control interface, at which the server says which projects are to be played; says so to its parent, and ends when the parent does. */
const { values } = parseArgs({
  options: { port: { type: 'string', default: '1502' }, control: { type: 'string', default: '0' } },
});

const plants = new Plants(Number(values.port));
const control = controlInterface(plants);
allowOnly(control, process.env['ENVOY_STAND_INS_TOKEN'] ?? randomBytes(24).toString('base64url'));

process.on('SIGINT', () => undefined);
process.on('SIGHUP', () => undefined);
process.on('SIGTERM', () => inBackground(end()));
process.on('disconnect', () => inBackground(end()));

try {
  await control.listen({ host: '127.0.0.1', port: Number(values.control) });
  const address = control.server.address();
  process.send?.({ ready: true, control: typeof address === 'object' ? address?.port : null });
} catch (error) {
  process.send?.({ failed: error instanceof Error ? error.message : String(error), code: (error as NodeJS.ErrnoException).code });
  process.exitCode = 1;
  await end();
}

async function end(): Promise<void> {
  await control.close();
  await plants.endAll();
  if (process.connected) process.disconnect();
}
