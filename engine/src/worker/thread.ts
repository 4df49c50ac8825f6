import { parentPort } from 'node:worker_threads';
import type { SerialSettings } from '@plain-envoy/core/line';
import type { Endpoint } from '@plain-envoy/core/plan';
import type { Batch } from '@plain-envoy/core/feed';
import { Runner } from '../runner/index.js';
import { type Channel, ChannelTransport, type ClientTransport, openSocket, overEthernet } from '../transport/index.js';
import { borrowedChannel } from './lent-port.js';
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
    case 'trace-since':
      tell({ type: 'traced-since', id: command.id, ...runner.trace.since(command.after, command.count) });
      break;
    case 'found':
      asked.get(command.id)?.(command.way);
      asked.delete(command.id);
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

type Way = Extract<Command, { type: 'found' }>['way'];
/** Who waits for a way to a line. */
const asked = new Map<number, (way: Way) => void>();
let asks = 0;

async function wayTo(to: { lineId: string } | { path: string }, settings: SerialSettings): Promise<Channel> {
  const id = (asks += 1);
  const found = new Promise<Way>((done) => asked.set(id, done));
  tell({ type: 'way', id, to, settings });
  const way = await found;
  if ('why' in way) throw new Error(way.why);
  return 'lent' in way ? borrowedChannel(way.lent) : openSocket('127.0.0.1', way.adapter);
}

function dialStandIn(endpoint: Endpoint): ClientTransport {
  if (endpoint.via === 'line') {
    const { id, settings, framing } = endpoint;
    return new ChannelTransport(() => wayTo({ lineId: id }, settings), framing);
  }
  const { standInAddress } = endpoint;
  return standInAddress
    ? overEthernet(endpoint.framing, standInAddress, standInsPort)
    : nowhere('it has no stand-in, and the bench runs on stand-ins only.');
}

/** The plant itself: only where a person has armed it. */
function dialReal(endpoint: Endpoint, ports: Bound): ClientTransport {
  const port = ports[endpoint.id];
  if (port) return new ChannelTransport(() => wayTo({ path: port.path }, port.settings), port.framing);
  if (endpoint.via === 'line') return nowhere('it is bound to no serial port of this machine; bind it in Lines.');
  return overEthernet(endpoint.framing, endpoint.ip, endpoint.tcpPort);
}

function nowhere(why: string): ClientTransport {
  return { exchange: () => Promise.resolve({ kind: 'not connected', why }), close: () => undefined };
}
