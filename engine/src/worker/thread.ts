import { parentPort } from 'node:worker_threads';
import type { Endpoint } from '@plain-envoy/core/plan';
import type { Batch } from '@plain-envoy/core/feed';
import { Runner } from '../runner/index.js';
import { ChannelTransport, type ClientTransport, openSocket, TcpTransport } from '../transport/index.js';
import type { Command, Report } from './messages.js';

/** The engine's own thread: nothing that the server does delays a poll. */
const BATCH_MS = 100;

let standInsPort = 0;
const runner = new Runner(dialStandIn);
let batches: NodeJS.Timeout | null = null;

parentPort!.on('message', (command: Command) => {
  switch (command.type) {
    case 'start':
      standInsPort = command.standInsPort;
      runner.start(command.plan);
      batches ??= setInterval(report, BATCH_MS);
      break;
    case 'plan':
      runner.load(command.plan);
      break;
    case 'watch':
      runner.watch(command.part);
      break;
    case 'stop':
      runner.stop();
      if (batches) clearInterval(batches);
      batches = null;
      break;
  }
});

function report(): void {
  const batch: Batch = runner.collect();
  if (Object.values(batch).some((rows: unknown[]) => rows.length > 0)) {
    parentPort!.postMessage({ type: 'batch', batch } satisfies Report);
  }
}

function dialStandIn(endpoint: Endpoint): ClientTransport {
  const { standInAddress: host, framing } = endpoint;
  if (host)
    return framing === 'tcp' ? new TcpTransport(host, standInsPort) : new ChannelTransport(() => openSocket(host, standInsPort), 'rtu');
  const why = 'it has no stand-in, and the bench runs on stand-ins only.';
  return { exchange: () => Promise.resolve({ kind: 'not connected', why }), close: () => undefined };
}
