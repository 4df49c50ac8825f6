import { parentPort } from 'node:worker_threads';
import type { Endpoint } from '@plain-envoy/core/plan';
import type { Batch } from '@plain-envoy/core/feed';
import { Runner } from '../runner/index.js';
import { ChannelTransport, type ClientTransport, openSerialPort, openSocket, TcpTransport } from '../transport/index.js';
import type { Bound, Command, Report } from './messages.js';

/** The engine's own thread: nothing that the server does delays a poll. */
const BATCH_MS = 100;

let standInsPort = 0;
let bound: Bound | null = null;
const runner = new Runner((endpoint) => (bound ? dialReal(endpoint, bound) : dialStandIn(endpoint)));
let batches: NodeJS.Timeout | null = null;

parentPort!.on('message', (command: Command) => {
  switch (command.type) {
    case 'start':
      standInsPort = command.standInsPort;
      bound = command.bound;
      runner.start(command.plan);
      batches ??= setInterval(report, BATCH_MS);
      break;
    case 'plan':
      runner.load(command.plan);
      break;
    case 'watch':
      runner.watch(command.part);
      break;
    case 'write':
      void runner.writeByHand(command.write, command.words).then((outcome) => tell({ type: 'answered', id: command.id, outcome }));
      break;
    case 'read':
      void runner.readByHand(command.read).then((outcome) => tell({ type: 'answered', id: command.id, outcome }));
      break;
    case 'force':
      runner.force(command.routeId, command.words);
      break;
    case 'capture':
      runner.capture(command.trigger, command.point);
      break;
    case 'trace':
      tell({ type: 'traced', id: command.id, found: runner.trace.find(command.filter, command.part) });
      break;
    case 'trips':
      void makeTrips(command);
      break;
    case 'end-trips':
      trips.delete(command.id);
      break;
    case 'stop':
      runner.stop();
      if (batches) clearInterval(batches);
      batches = null;
      break;
  }
});

/** Those that go on. */
const trips = new Set<number>();

async function makeTrips({ id, outId, backId, write, wish }: Extract<Command, { type: 'trips' }>): Promise<void> {
  trips.add(id);
  for await (const event of runner.trips(outId, backId, write, wish)) {
    tell({ type: 'trip', id, event });
    if (!trips.has(id)) break;
  }
  tell({ type: 'trip', id, event: null });
}

function tell(report: Report): void {
  parentPort!.postMessage(report);
}

function report(): void {
  const batch: Batch = runner.collect();
  if (Object.values(batch).some((rows: unknown[]) => rows.length > 0)) {
    tell({ type: 'batch', batch });
  }
}

function dialStandIn(endpoint: Endpoint): ClientTransport {
  const { standInAddress: host, framing } = endpoint;
  if (host)
    return framing === 'tcp' ? new TcpTransport(host, standInsPort) : new ChannelTransport(() => openSocket(host, standInsPort), 'rtu');
  const why = 'it has no stand-in, and the bench runs on stand-ins only.';
  return { exchange: () => Promise.resolve({ kind: 'not connected', why }), close: () => undefined };
}

/** The plant itself: only where a person has armed it. */
function dialReal({ id, ip, tcpPort, framing }: Endpoint, ports: Bound): ClientTransport {
  const port = ports[id];
  if (port) return new ChannelTransport(() => openSerialPort(port.path, port.settings), port.framing);
  return framing === 'tcp' ? new TcpTransport(ip, tcpPort) : new ChannelTransport(() => openSocket(ip, tcpPort), 'rtu');
}
