import { isBitTable, type Table } from '@plain-envoy/core/address';
import type { CarriedTelegram } from '@plain-envoy/core/converter';
import { sinceEpoch, TextExchange } from '@plain-envoy/core/text-line';
import { extentsOf } from '@plain-envoy/core/map';
import type { ListenedText } from '@plain-envoy/core/feed';
import { type Failure, FailureError } from '@plain-envoy/core/failure';
import { functionOf } from '@plain-envoy/core/frame';
import { type Point, pointWidth } from '@plain-envoy/core/model';
import '@plain-envoy/core/re2';
import { inBackground } from '../background/index.js';
import { type Channel, type ClientTransport, type Exchange, failed, type Telling } from '../links/index.js';
import { answerPdu, RegisterBank } from '../server/index.js';
import { bankMemory } from './bank-memory.js';
import { Outgoing } from './outgoing.js';

/** How often it looks whether something is due. */
const STEP_MS = 50;
/** How often it looks whether what is waited for has come. */
const LOOK_MS = 10;
/** A line that could not be opened is tried again after so long at the earliest. */
const AGAIN_MS = 2000;

/** The texts of one device, in registers of their own. */
interface Heard {
  bank: RegisterBank;
  exchange: TextExchange;
  telegrams: readonly CarriedTelegram[];
}

/**
 * Takes the texts of a line apart itself: what devices send lies in registers of theirs, which are asked like any others, and what is
 * written there goes out as texts. A value of which no sound text came lately is no answer.
 */
export class TextTransport implements ClientTransport {
  private channel: Promise<Channel> | null = null;
  private failure: { of: Failure; atMs: number } | null = null;
  private readonly devices: Heard[];
  private timer: NodeJS.Timeout | null = null;
  private isClosed = false;
  private readonly outgoing = new Outgoing((bytes) => this.write(bytes));
  onText: ClientTransport['onText'];

  constructor(
    private readonly open: () => Promise<Channel>,
    telegrams: readonly CarriedTelegram[],
    private readonly silenceMs: number,
    private readonly now: () => number = () => performance.now(),
  ) {
    const ids = [...new Set(telegrams.map(({ deviceId }) => deviceId))];
    this.devices = [];
    for (const id of ids) {
      const own = telegrams.filter(({ deviceId }) => deviceId === id);
      const bank = new RegisterBank(
        extentsOf(
          own.flatMap(({ points }) => points),
          true,
        ),
      );
      const exchange = new TextExchange({
        ...{ telegrams: own, as: 'converter', memory: bankMemory(bank), silenceMs: this.silenceMs },
        send: (bytes) => this.outgoing.send(bytes),
        onText: (bytes) => this.onText?.(bytes, 'heard'),
      });
      exchange.begin();
      this.devices[own[0]!.unit] = { bank, exchange, telegrams: own };
    }
  }

  async exchange(unit: number, pdu: Uint8Array, timeoutMs: number): Promise<Exchange> {
    const device = this.devices[unit];
    const asked = functionOf(pdu[0] ?? 0);
    if (!device || !asked) return failed({ code: 'no-answer' });
    const opened = await this.opened();
    if (opened) return failed(opened);
    if (asked.kind === 'read') {
      const [offset, count] = [(pdu[1]! << 8) | pdu[2]!, (pdu[3]! << 8) | pdu[4]!];
      const untilMs = this.now() + timeoutMs;
      while (!this.isFresh(device, asked.table, offset, count)) {
        if (this.failure) return failed(this.failure.of);
        if (this.now() >= untilMs || this.isClosed) return failed({ code: 'no-answer' });
        await new Promise((done) => setTimeout(done, LOOK_MS));
      }
    }
    const answer = answerPdu(device.bank, pdu);
    if (asked.kind !== 'read') {
      const [offset, count] = [(pdu[1]! << 8) | pdu[2]!, asked.kind === 'write-many' ? (pdu[3]! << 8) | pdu[4]! : 1];
      const isIn = ({ table, offset: at }: Point) => table === asked.table && at >= offset && at < offset + count;
      device.exchange.wrote(isIn);
      device.exchange.step(this.now());
    }
    return { kind: 'answer', pdu: answer };
  }

  async tell(): Promise<Telling> {
    return Promise.resolve(failed({ code: 'no-answer' }));
  }

  close(): void {
    this.isClosed = true;
    if (this.timer) clearInterval(this.timer);
    inBackground(
      this.channel?.then(
        (channel) => channel.close(),
        () => undefined,
      ) ?? Promise.resolve(),
    );
  }

  /** What keeps the line from being open; null where nothing does. */
  private async opened(): Promise<Failure | null> {
    if (this.failure && this.now() - this.failure.atMs < AGAIN_MS) return this.failure.of;
    this.channel ??= this.connect();
    try {
      await this.channel;
      return null;
    } catch (error) {
      this.lost(error instanceof FailureError ? error.failure : { code: 'broken' });
      return this.failure!.of;
    }
  }

  private async connect(): Promise<Channel> {
    const channel = await this.open();
    this.failure = null;
    channel.listen(
      (bytes) => this.devices.forEach(({ exchange }) => exchange.hear(bytes.slice(), this.now())),
      (failure) => this.lost(failure),
    );
    this.timer ??= setInterval(() => this.devices.forEach(({ exchange }) => exchange.step(this.now())), STEP_MS);
    return channel;
  }

  private lost(failure: Failure): void {
    this.channel = null;
    this.failure = { of: failure, atMs: this.now() };
  }

  texts(): ListenedText[] {
    const now = this.now();
    return this.devices.flatMap(({ exchange, telegrams: [first] }) => {
      const state = exchange.state(now, { ...this.outgoing.state(), isHeld: false });
      return first ? [{ ...sinceEpoch(state, Date.now() - now), deviceId: first.deviceId }] : [];
    });
  }

  private async write(bytes: Uint8Array): Promise<void> {
    const channel = await this.channel?.catch(() => null);
    if (!channel) return;
    await channel.write(bytes);
    this.onText?.(bytes, 'sent');
  }

  /** Whether every value of the registers that a device sent came lately, in a sound text. */
  private isFresh({ exchange, telegrams }: Heard, table: Table, offset: number, count: number): boolean {
    return telegrams.every(({ id, direction, lostAfterMs, points }) => {
      const isAsked = points.some(
        (point) =>
          point.place.kind === 'field' && point.table === table && point.offset < offset + count && offset < point.offset + widthIn(point),
      );
      const ageMs = exchange.ageOf(id, this.now());
      return direction !== 'sent' || !isAsked || (ageMs !== null && ageMs <= lostAfterMs);
    });
  }
}

function widthIn(point: CarriedTelegram['points'][number]): number {
  return isBitTable(point.table) ? 1 : pointWidth(point);
}
