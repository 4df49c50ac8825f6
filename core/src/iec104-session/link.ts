import type { Times104 } from '../telecontrol/index.js';
import { buildFrame104, type Frame104, nextCounter, readFrame104, type Service, Stream104 } from '../iec104/index.js';

export interface LinkRules104<Token> {
  as: 'control station' | 'outstation';
  times: Times104;
  send(frame: Uint8Array): void;
  /** An ASDU came, in its order. */
  deliver(asdu: Uint8Array): void;
  /** The other side has got what was sent with this token. */
  confirmed(token: Token): void;
  /** Data may be sent from now on. */
  started(): void;
  /** The connection has to be closed, and why. */
  close(why: string): void;
}

/** What was sent and is not confirmed. */
interface Flight<Token> {
  number: number;
  token: Token;
  atMs: number;
}

/** One end of a connection of IEC 60870-5-104 (clause 5): counters, receipts, times and services. It has no clock and no socket of its own. */
export class Link104<Token> {
  private readonly stream = new Stream104();
  private isStarted = false;
  private isClosed = false;
  private sent = 0;
  private received = 0;
  /** Up to which number a receipt has gone out. */
  private receipted = 0;
  private firstUnreceiptedMs: number | null = null;
  private lastHeardMs: number;
  /** Since when the answer to a service is waited for. */
  private awaitedMs: number | null = null;
  private readonly flights: Flight<Token>[] = [];

  constructor(
    private readonly rules: LinkRules104<Token>,
    nowMs: number,
  ) {
    this.lastHeardMs = nowMs;
    if (rules.as === 'control station') this.ask('start', nowMs);
  }

  /** How many more numbered frames may go out just now. */
  get room(): number {
    return this.isStarted && !this.isClosed ? this.rules.times.k - this.flights.length : 0;
  }

  /** Sends an ASDU; there has to be room. */
  send(asdu: Uint8Array, token: Token, nowMs: number): void {
    if (this.room <= 0) throw new Error('There is no room for another numbered frame.');
    this.flights.push({ number: this.sent, token, atMs: nowMs });
    this.put({ kind: 'numbered', sent: this.sent, received: this.received, asdu });
    this.sent = nextCounter(this.sent);
    this.noteReceipt();
  }

  hear(bytes: Uint8Array, nowMs: number): void {
    const { frames, broken } = this.stream.push(bytes);
    for (const frame of frames) {
      if (this.isClosed) return;
      this.lastHeardMs = nowMs;
      const read = readFrame104(frame);
      if (read.ok) this.take(read.value, nowMs);
      else this.close(read.problem.message);
    }
    if (broken !== null) this.close(broken);
  }

  step(nowMs: number): void {
    if (this.isClosed) return;
    const { t1Ms, t2Ms, t3Ms } = this.rules.times;
    const oldest = this.flights[0];
    if (oldest && nowMs - oldest.atMs >= t1Ms) return this.close(`No receipt of frame ${oldest.number} came within ${t1Ms} ms.`);
    if (this.awaitedMs !== null && nowMs - this.awaitedMs >= t1Ms) return this.close(`The other side did not answer within ${t1Ms} ms.`);
    if (this.firstUnreceiptedMs !== null && nowMs - this.firstUnreceiptedMs >= t2Ms) this.receipt();
    if (this.awaitedMs === null && nowMs - this.lastHeardMs >= t3Ms) this.ask('test', nowMs);
  }

  private take(frame: Frame104, nowMs: number): void {
    if (frame.kind === 'service') return this.serve(frame.service);
    if (!this.confirm(frame.received)) return;
    if (frame.kind === 'receipt') return;
    if (!this.isStarted) return this.close('A numbered frame came before data was asked for.');
    if (frame.sent !== this.received) return this.close(`Frame ${this.received} is missing; ${frame.sent} came.`);
    this.received = nextCounter(this.received);
    this.firstUnreceiptedMs ??= nowMs;
    this.rules.deliver(frame.asdu);
    const waiting = (this.received - this.receipted + 32_768) % 32_768;
    if (!this.isClosed && waiting >= this.rules.times.w) this.receipt();
  }

  /** Takes note of what the other side has got; false where it claims what was never sent. */
  private confirm(received: number): boolean {
    const own = this.flights.findIndex(({ number }) => nextCounter(number) === received);
    const oldest = this.flights[0]?.number ?? this.sent;
    if (own < 0 && received !== oldest) {
      this.close(`A receipt up to ${received} came, and ${this.sent} were sent.`);
      return false;
    }
    for (const { token } of this.flights.splice(0, own + 1)) this.rules.confirmed(token);
    return true;
  }

  private serve(service: Service): void {
    const isOutstation = this.rules.as === 'outstation';
    if (service === 'test') this.put({ kind: 'service', service: 'test confirmed' });
    else if (service === 'test confirmed') this.awaitedMs = null;
    else if (service === 'start' && isOutstation) {
      this.put({ kind: 'service', service: 'start confirmed' });
      this.begin();
    } else if (service === 'start confirmed' && !isOutstation) {
      this.awaitedMs = null;
      this.begin();
    } else if (service === 'stop' && isOutstation) {
      this.receipt();
      this.isStarted = false;
      this.put({ kind: 'service', service: 'stop confirmed' });
    } else if (service === 'stop confirmed' && !isOutstation) this.isStarted = false;
    else this.close(`The other side sent “${service}”, which is not its part.`);
  }

  private begin(): void {
    if (this.isStarted) return;
    this.isStarted = true;
    this.rules.started();
  }

  private ask(service: 'start' | 'test', nowMs: number): void {
    this.awaitedMs = nowMs;
    this.put({ kind: 'service', service });
  }

  private receipt(): void {
    if (this.received === this.receipted) return;
    this.put({ kind: 'receipt', received: this.received });
    this.noteReceipt();
  }

  private noteReceipt(): void {
    this.receipted = this.received;
    this.firstUnreceiptedMs = null;
  }

  private put(frame: Frame104): void {
    if (!this.isClosed) this.rules.send(buildFrame104(frame));
  }

  private close(why: string): void {
    if (this.isClosed) return;
    this.isClosed = true;
    this.rules.close(why);
  }
}
