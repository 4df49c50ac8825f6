import type { Failure } from '@plain-envoy/core/failure';
import { asciiFrame, codecOf, rtuFrame } from '@plain-envoy/core/codec';
import { ChannelTransport } from './channel-transport.js';
import type { Channel } from './channel.js';
import type { Exchange, Frames } from './transport.js';

const LUMP_MS = codecOf('rtu').longestPauseMs;
const question = Uint8Array.of(3, 0, 0, 0, 1);
const answer = Uint8Array.of(3, 2, 0x12, 0x34);

/** A channel in memory: what is written is kept, what comes and when it ends is up to the test. */
class Wire implements Channel {
  readonly sent: Uint8Array[] = [];
  closed = false;
  /** Resolves what was written, where the test holds it back. */
  leave: (() => void) | null = null;
  holdsBack = false;
  private onBytes: (bytes: Uint8Array) => void = () => undefined;
  private onEnd: (failure: Failure) => void = () => undefined;

  write(bytes: Uint8Array): Promise<void> {
    this.sent.push(bytes);
    return this.holdsBack ? new Promise((left) => (this.leave = left)) : Promise.resolve();
  }

  listen(onBytes: (bytes: Uint8Array) => void, onEnd: (failure: Failure) => void): void {
    [this.onBytes, this.onEnd] = [onBytes, onEnd];
  }

  close(): void {
    this.closed = true;
  }

  comes(...bytes: number[]): void {
    this.onBytes(Uint8Array.from(bytes));
  }

  ends(failure: Failure): void {
    this.onEnd(failure);
  }
}

describe('ChannelTransport', () => {
  let wires: Wire[];
  let transport: ChannelTransport;
  /** How the questions ended, in the order in which they did. */
  let ended: Exchange[];
  let nowMs: number;

  const wire = () => wires.at(-1)!;
  const turn = () => new Promise<void>((done) => setImmediate(done));
  /** Asks and lets the question leave. */
  async function ask(unit = 9, timeoutMs = 100, frames?: Frames): Promise<void> {
    void transport.exchange(unit, question, timeoutMs, frames).then((exchange) => ended.push(exchange));
    await turn();
  }
  async function wind(ms: number): Promise<void> {
    nowMs += ms;
    jasmine.clock().tick(ms);
    await turn();
  }
  const failures = () => ended.map((exchange) => (exchange.kind === 'failed' ? exchange.failure : [...exchange.pdu]));
  const frame = (unit = 9, pdu = answer) => [...rtuFrame({ unit, pdu })];

  beforeEach(() => {
    jasmine.clock().install();
    nowMs = 5000;
    spyOn(performance, 'now').and.callFake(() => nowMs);
    [wires, ended] = [[], []];
    transport = new ChannelTransport(() => {
      wires.push(new Wire());
      return Promise.resolve(wire());
    }, 'rtu');
  });
  afterEach(() => jasmine.clock().uninstall());

  it('opens at the first question, and stays open', async () => {
    expect(wires.length).toBe(0);
    await ask();
    expect([...wire().sent[0]!]).toEqual(frame(9, question));
    wire().comes(...frame());
    await ask();
    wire().comes(...frame());
    await turn();
    expect([failures(), wires.length]).toEqual([[[...answer], [...answer]], 1]);
  });

  it('puts an answer together that comes in pieces, with a pause shorter than the end of a frame', async () => {
    await ask();
    for (const byte of frame()) {
      await wind(LUMP_MS - 51);
      wire().comes(byte);
    }
    await turn();
    expect(failures()).toEqual([[...answer]]);
  });

  it('takes what has come for a frame after a pause, and calls it damaged', async () => {
    const frames: Frames = { sent: null, got: null };
    await ask(9, 1000, frames);
    wire().comes(...frame().slice(0, 5));
    await wind(LUMP_MS - 1);
    expect(ended).toEqual([]);
    await wind(1);
    expect(failures()).toEqual([{ code: 'half-answer', bytes: 5, of: 7 }]);
    expect(frames.got && [...frames.got]).toEqual(frame().slice(0, 5));
  });

  it('ends a question at its timeout, which counts from when it has left', async () => {
    await ask();
    wire().comes(...frame());
    await turn();
    wire().holdsBack = true;
    await ask();
    await wind(500);
    expect(ended.length).toBe(1);
    wire().leave!();
    await turn();
    await wind(99);
    expect(ended.length).toBe(1);
    await wind(1);
    expect(failures().slice(1)).toEqual([{ code: 'no-answer' }]);
  });

  it('gives a channel up that takes nothing any more, and asks on another', async () => {
    await ask();
    wire().comes(...frame());
    await turn();
    const dead = wire();
    dead.holdsBack = true;
    await ask();
    await wind(9999);
    expect([ended.length, dead.closed]).toEqual([1, false]);
    await wind(1);
    expect([failures()[1], dead.closed]).toEqual([{ code: 'broken' }, true]);
    await ask();
    expect(wires.length).toBe(2);
    wire().comes(...frame());
    await turn();
    expect(failures()[2]).toEqual([...answer]);
  });

  it('says at the timeout how much of an answer had come', async () => {
    await ask(9, 50);
    await wind(20);
    wire().comes(9, 3);
    await wind(30);
    expect(failures()).toEqual([{ code: 'no-frame', bytes: 2 }]);
  });

  it('does not take the answer of another unit, and waits on', async () => {
    const frames: Frames = { sent: null, got: null };
    await ask(9, 100, frames);
    wire().comes(...frame(8));
    await turn();
    expect([ended.length, frames.got]).toEqual([0, null]);
    wire().comes(...frame());
    await turn();
    expect(failures()).toEqual([[...answer]]);
    expect([[...frames.sent!], [...frames.got!]]).toEqual([frame(9, question), frame()]);
  });

  it('throws away what nobody asked for, before the question and between', async () => {
    await ask();
    wire().comes(...frame(), 1, 2, 3);
    await turn();
    wire().comes(4, 5);
    await wind(2 * LUMP_MS);
    await ask();
    wire().comes(...frame());
    await turn();
    expect(failures()).toEqual([[...answer], [...answer]]);
  });

  it('asks one at a time, in the order in which they came', async () => {
    await ask(1);
    await ask(2);
    expect(wire().sent.length).toBe(1);
    wire().comes(...frame(1));
    await turn();
    expect(wire().sent.map(([unit]) => unit)).toEqual([1, 2]);
    wire().comes(...frame(2));
    await turn();
    expect(ended.length).toBe(2);
  });

  it('ends with what ended the channel, and opens another at the next question', async () => {
    await ask();
    wire().ends({ code: 'own-port', detail: 'It was pulled.' });
    await turn();
    await ask();
    expect(wires.length).toBe(2);
    wires[0]!.ends({ code: 'closed' });
    wire().comes(...frame());
    await turn();
    expect(failures()).toEqual([{ code: 'own-port', detail: 'It was pulled.' }, [...answer]]);
    await ask();
    expect(wires.length).withContext('the end of the first did not close the second').toBe(2);
  });

  it('says why it cannot be opened, and tries again at the next question', async () => {
    let tries = 0;
    transport = new ChannelTransport(() => Promise.reject(new Error(`no ${(tries += 1)}`)), 'rtu');
    await ask();
    await ask();
    expect(tries).toBe(2);
    expect(ended.map(({ kind }) => kind)).toEqual(['failed', 'failed']);
  });

  it('closes with the question that is open, and asks no more', async () => {
    await ask();
    transport.close();
    await turn();
    await ask();
    expect([failures(), wire().closed, wires.length]).toEqual([[{ code: 'closed' }, { code: 'closed' }], true, 1]);
  });

  it('closes what is opened only after it was closed', async () => {
    let opened: (channel: Channel) => void = () => undefined;
    transport = new ChannelTransport(() => new Promise((done) => (opened = done)), 'rtu');
    await ask();
    transport.close();
    const late = new Wire();
    opened(late);
    await turn();
    expect([late.closed, late.sent.length]).toEqual([true, 0]);
    expect(failures()).toEqual([{ code: 'closed' }]);
  });

  it('leaves no timer behind once a question has ended', async () => {
    await ask();
    wire().comes(...frame());
    await turn();
    await ask(9, 1000);
    await wind(100);
    expect(ended.length).withContext('the timeout of the first does not end the second').toBe(1);
  });

  it('speaks ASCII as well, and knows the end of a frame without a pause', async () => {
    transport = new ChannelTransport(() => {
      wires.push(new Wire());
      return Promise.resolve(wire());
    }, 'ascii');
    await ask();
    expect([...wire().sent[0]!]).toEqual([...asciiFrame({ unit: 9, pdu: question })]);
    wire().comes(...asciiFrame({ unit: 9, pdu: answer }));
    await turn();
    expect(failures()).toEqual([[...answer]]);
  });
});
