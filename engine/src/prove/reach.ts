import { requestPdu, describeException } from '@plain-envoy/core/frame';
import type { ProveEvent } from '@plain-envoy/core/feed';
import type { ClientTransport } from '../links/index.js';
import { connectable } from './connectable.js';
import { describeIdentity, identify, probeAfterClosing } from './probe.js';

export interface ReachOptions {
  name: string;
  unit: number;
  timeoutMs: number;
  /** Where TCP is on the way; null for a serial port of this machine. */
  socket: { host: string; port: number; network: string } | null;
  /** How long the gateway on the way waits; null where there is none. */
  gateway: { name: string; waitsMs: number } | null;
  /** A register that the device is known to have. */
  register: { functionCode: number; offset: number; what: string };
  /** How many questions are set to be open at a time; null where only one ever is. */
  openTransactions: number | null;
  open(): ClientTransport;
}

type Step = Extract<ProveEvent, { kind: 'step' }>;

/** Goes to a device step by step; the first step that fails says what it means, and those after it are not tried. */
export async function* reachDevice(options: ReachOptions): AsyncGenerator<Step> {
  const { name, unit, timeoutMs, socket, gateway, register } = options;
  const target = gateway ? gateway.name : name;
  if (socket) {
    yield step('network', true, `${socket.host} is in ${socket.network}.`, 0);
    const connected = await connectable(socket.host, socket.port, timeoutMs);
    if (connected.state !== 'open') {
      const meaning =
        connected.state === 'refused'
          ? `${target} is there, but nothing listens on TCP port ${socket.port}: is Modbus switched on, and on this port?`
          : `Nothing answers at ${socket.host}: check power, cable, address and mask of ${target}.`;
      return yield step('connect', false, meaning, connected.ms);
    }
    yield step('connect', true, `${target} takes a connection on TCP port ${socket.port}.`, connected.ms);
  }
  const transport = options.open();
  try {
    const presence = await probeAfterClosing(transport, unit, timeoutMs, gateway?.waitsMs ?? null);
    if (presence.kind !== 'answers') {
      const meaning =
        presence.kind === 'silent'
          ? gateway
            ? `${gateway.name} asked unit ${unit} on its line and got no answer: check that ${name} has power, this unit ID, and the line’s settings.`
            : `No answer from unit ${unit}: check power, unit ID and settings of ${name}.`
          : presence.why;
      return yield step('answer', false, meaning, presence.ms);
    }
    yield step('answer', true, `Unit ${unit} ${presence.how}.`, presence.ms);

    const identifyFrom = performance.now();
    const identity = await identify(transport, unit, timeoutMs);
    const identified = identity
      ? `It says of itself: ${describeIdentity(identity)}.`
      : 'It knows neither function 43/14 nor 17; many devices do not.';
    yield { ...step('identify', true, identified, performance.now() - identifyFrom), identification: identity?.identification ?? null };

    const readFrom = performance.now();
    const answer = await transport.exchange(unit, requestPdu({ ...register, count: 1 }), timeoutMs);
    const ms = performance.now() - readFrom;
    if (answer.kind !== 'answer') return yield step('register', false, `${register.what} was not answered.`, ms);
    if ((answer.pdu[0]! & 0x80) !== 0)
      return yield step('register', false, `${register.what} is refused: ${describeException(answer.pdu[1] ?? 0)}.`, ms);
    yield step('register', true, `${register.what} holds ${valueOf(answer.pdu)}.`, ms);
    if (options.openTransactions !== null) yield await openAtATime(transport, options, options.openTransactions);
  } finally {
    transport.close();
  }
}

/** Asks more and more at a time, each question in a piece of its own, until one of them is not answered. */
async function openAtATime(transport: ClientTransport, { unit, timeoutMs, register }: ReachOptions, set: number): Promise<Step> {
  const from = performance.now();
  let [takes, tried] = [1, 1];
  for (const count of TRIED_AT_A_TIME) {
    tried = count;
    const asked = Array.from({ length: count }, () => transport.exchange(unit, requestPdu({ ...register, count: 1 }), timeoutMs));
    const answers = await Promise.all(asked);
    if (!answers.every((answer) => answer.kind === 'answer' && (answer.pdu[0]! & 0x80) === 0)) break;
    takes = count;
  }
  const limit = takes === tried ? '; more were not tried' : `, and not ${tried}`;
  const advice =
    takes < set ? ` ${set} are set at its port: set ${takes} in Lines.` : ` ${set} ${set === 1 ? 'is' : 'are'} set at its port.`;
  return step('open', takes >= set, `It answers ${takes} at a time${limit}.${advice}`, performance.now() - from);
}

const TRIED_AT_A_TIME = [2, 4, 8, 16];

function valueOf(pdu: Uint8Array): string {
  return pdu[1] === 1 ? String(pdu[2]! & 1) : `${(pdu[2]! << 8) | pdu[3]!}`;
}

function step(name: Step['name'], passed: boolean, sentence: string, ms: number): Step {
  return { kind: 'step', name, passed, sentence, identification: null, ms: Math.round(ms * 10) / 10 };
}
