import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { parseArgs } from 'node:util';
import { startService } from './service.js';

/**
 * Starts the server, says so to its parent, and ends when the parent does. What nobody else may read, the database's address among it,
 * comes in the environment.
 */
const { values } = parseArgs({
  options: {
    host: { type: 'string', default: '127.0.0.1' },
    port: { type: 'string', default: '4310' },
    'stand-ins-port': { type: 'string', default: '1502' },
    'stand-ins-control': { type: 'string' },
    name: { type: 'string', multiple: true, default: [] },
    'tls-cert': { type: 'string' },
    'tls-key': { type: 'string' },
  },
});

const { 'tls-cert': cert, 'tls-key': key } = values;

const STOP_MS = 3000;

process.on('SIGINT', () => undefined);
process.on('SIGHUP', () => undefined);

try {
  const service = await startService({
    databaseUrl: process.env['DATABASE_URL'] ?? '',
    host: values.host,
    port: Number(values.port),
    standInsPort: Number(values['stand-ins-port']),
    standInsControl: values['stand-ins-control'] ? Number(values['stand-ins-control']) : null,
    standInsToken: process.env['ENVOY_STAND_INS_TOKEN'] ?? '',
    names: values.name,
    passphrase: process.env['ENVOY_PASSPHRASE'] ?? null,
    tls: cert && key ? { cert: readFileSync(cert, 'utf8'), key: readFileSync(key, 'utf8') } : null,
    webFolder: fileURLToPath(new URL('../../web/dist/browser', import.meta.url)),
  });
  const end = () => {
    setTimeout(() => process.exit(1), STOP_MS).unref();
    service.stop().then(
      () => process.exit(0),
      () => process.exit(1),
    );
  };
  process.on('unhandledRejection', (error) => service.trouble(error));
  process.on('SIGTERM', end);
  process.on('disconnect', end);
  process.send?.({ ready: true, port: service.port });
} catch (error) {
  process.send?.({ failed: error instanceof Error ? error.message : String(error), code: (error as NodeJS.ErrnoException).code });
  process.exit(1);
}
