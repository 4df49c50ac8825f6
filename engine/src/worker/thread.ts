import { type Failure, failureError } from '@plain-envoy/core/failure';
import { type MessagePort, parentPort } from 'node:worker_threads';
import type { Batch } from '@plain-envoy/core/feed';
import { dialOf, type Plan, type Target } from '@plain-envoy/core/plan';
import { inBackground } from '../background/index.js';
import { comeFirst } from './come-first.js';
import { Runner } from '../runner/index.js';
import { openDial, type OwnPorts } from '../transports/index.js';
import { borrowedChannel } from './lent-port.js';
import type { Command, OwnPort, Report } from './messages.js';
import { updated } from './plan-update.js';

/** The engine's own thread: nothing that the server does delays a poll. */
const BATCH_MS = 100;

/** Where the plan runs. */
let where: { on: Target; standInsPort: number } = { on: 'stand-ins', standInsPort: 0 };
const runner = new Runner((endpoint) => openDial(dialOf(endpoint, where.on, where.standInsPort), own));
/** As it was told last. */
let plan: Plan = { endpoints: [], requests: [], routes: [] };
let batches: NodeJS.Timeout | null = null;

comeFirst();
parentPort!.on('message', (command: Command) => {
  switch (command.type) {
    case 'start':
      where = command;
      plan = command.plan;
      runner.start(plan, command.on === 'real');
      batches ??= setInterval(report, BATCH_MS);
      break;
    case 'plan':
      plan = updated(plan, command.update);
      runner.load(plan);
      break;
    case 'watch':
      runner.watch(command.part);
      break;
    case 'look':
      runner.look(command.looked);
      break;
    case 'write':
      inBackground(runner.writeByHand(command.write, command.words).then((outcome) => tell({ type: 'answered', id: command.id, outcome })));
      break;
    case 'read':
      inBackground(runner.readByHand(command.read).then((outcome) => tell({ type: 'answered', id: command.id, outcome })));
      break;
    case 'inquire':
      inBackground(runner.inquire(command.inquiry).then((outcome) => tell({ type: 'told', id: command.id, outcome })));
      break;
    case 'force':
      runner.force(command.routeId, command.words);
      break;
    case 'capture':
      runner.capture(command.trigger, command.point);
      break;
    case 'texts':
      tell({ type: 'listened', id: command.id, texts: runner.texts() });
      break;
    case 'passed':
      for (const entry of command.entries) runner.trace.add(entry);
      break;
    case 'trace':
      tell({ type: 'traced', id: command.id, found: runner.trace.find(command.filter, command.part) });
      break;
    case 'trips':
      inBackground(makeTrips(command));
      break;
    case 'end-trips':
      trips.delete(command.id);
      break;
    case 'trace-since':
      tell({ type: 'traced-since', id: command.id, ...runner.trace.since(command.after, command.count) });
      break;
    case 'opened':
      asked.get(command.id)?.(command.port);
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

type Answer = Extract<Command, { type: 'opened' }>['port'];
/** Who waits for a port that the host opens. */
const asked = new Map<number, (answer: Answer) => void>();
let asks = 0;

/** Rejects with a `FailureError` where the host cannot open it. */
async function ask(to: OwnPort): Promise<Exclude<Answer, { failure: Failure }>> {
  const id = (asks += 1);
  const opened = new Promise<Answer>((done) => asked.set(id, done));
  tell({ type: 'open', id, to });
  const port = await opened;
  if ('failure' in port) throw failureError(port.failure);
  return port;
}

/** Adapters and serial ports are opened by the host, which is in the main thread. */
const own: OwnPorts = {
  async adapter(lineId, settings) {
    const opened = await ask({ kind: 'adapter', lineId, settings });
    return (opened as { adapter: number }).adapter;
  },
  async serial(path, settings) {
    const opened = await ask({ kind: 'serial', path, settings });
    return borrowedChannel((opened as { lent: MessagePort }).lent);
  },
};
