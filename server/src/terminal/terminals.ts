import { FailureError, sentenceOf } from '@plain-envoy/core/failure';
import type { TerminalEvent } from '@plain-envoy/core/feed';
import { formatSettings, type PortSettings, type SerialSettings } from '@plain-envoy/core/line';
import { portSettingsOn, type SerialLine } from '@plain-envoy/core/media';
import type { ProjectDocument } from '@plain-envoy/core/model';
import type { Target } from '@plain-envoy/core/plan';
import { type Channel, openSerialPort } from '@plain-envoy/engine/links';
import { openTextLine } from '@plain-envoy/engine/transports';
import { z } from 'zod';
import { actor } from '../access/index.js';
import type { Arming } from '../arming/index.js';
import type { Claims } from '../claims/index.js';
import { refuse } from '../problem/index.js';
import { Waiting } from '../progress/index.js';
import { leaving, On } from '../prove/index.js';

export const AskTerminal = z.strictObject({ on: On });
export const AskText = z.strictObject({
  on: On,
  hex: z
    .string()
    .max(8192, 'At most 4096 bytes at a time.')
    .regex(/^(?:[0-9a-fA-F]{2})+$/, 'Bytes are pairs of hex digits, at least one.'),
});

const OVER = 'What was allowed on the real plant is over, so the terminal was closed.';

export interface TerminalGrounds {
  arming: Arming;
  claims: Claims;
  /** Where an adapter to a simulated line is on this machine, once it is set like this. */
  adapter(lineId: string, settings: SerialSettings): Promise<number>;
  serial?(path: string, settings: PortSettings): Promise<Channel>;
}

/** A line that is looked at: how a port of this machine there is set, and whether it is the real one. */
interface Way {
  line: SerialLine;
  settings: PortSettings;
  on: Target;
}

/** A line that is open, with all who look at it. */
interface Open {
  channel: Promise<Channel>;
  listeners: Set<(event: TerminalEvent) => void>;
}

/** The terminals of text lines of a project: what goes over them in both directions, and what a person sends there. */
export class Terminals {
  private readonly opened = new Map<string, Open>();

  constructor(private readonly around: TerminalGrounds) {}

  /** Tells what goes over a line until `hangsUp` fires; the first who listens opens it, the last closes it. */
  open(document: ProjectDocument, lineId: string, on: Target, hangsUp: AbortSignal): AsyncGenerator<TerminalEvent> {
    const { arming, claims } = this.around;
    const { project } = document;
    arming.allow(project.id, on, 'read');
    const line = textLineOf(document, lineId);
    if (on === 'real' && !line.boundTo)
      refuse(
        'does-not-fit',
        `Nothing of this machine leads to ${line.name}. Say what does, in Lines under “Line and cable”: a serial port, or a serial server as address:port.`,
        ['on'],
      );
    const over = on === 'real' ? arming.over(project.id) : null;
    const way: Way = { line, settings: portSettingsOn(document.ports, line), on };
    if (!over) return this.told(way, hangsUp);
    const listener = {};
    claims.take(listener, { ...project, doing: 'which has a terminal there' }, [line.boundTo!]);
    return leaving(this.told(way, hangsUp, over), () => claims.leave(listener));
  }

  /** Sends to a line that is open. */
  async send(document: ProjectDocument, lineId: string, { on, hex }: z.infer<typeof AskText>): Promise<void> {
    this.around.arming.allow(document.project.id, on, 'write');
    const open = this.opened.get(keyOf(lineId, on)) ?? refuse('not-now', 'Nobody has opened this line.');
    const channel = await open.channel;
    const by = actor();
    for (const tell of open.listeners) tell({ kind: 'sent', atMs: Date.now(), hex, by });
    await channel.write(Buffer.from(hex, 'hex'));
  }

  private async *told(way: Way, hangsUp: AbortSignal, over?: AbortSignal): AsyncGenerator<TerminalEvent> {
    const waiting = new Waiting<TerminalEvent>(hangsUp, { kind: 'failed', sentence: 'The page is too slow for this line.' });
    const { tell } = waiting;
    over?.addEventListener('abort', () => tell({ kind: 'failed', sentence: OVER }), { once: true });
    const open = this.join(way, tell);
    try {
      await open.channel;
      yield { kind: 'open', settings: formatSettings(way.settings) };
      yield* waiting.until(({ kind }) => kind === 'failed');
    } catch (error) {
      if (!(error instanceof FailureError)) throw error;
      yield { kind: 'failed', sentence: sentenceOf(error.failure) };
    } finally {
      await this.leave(way, open, tell);
    }
  }

  private join(way: Way, tell: (event: TerminalEvent) => void): Open {
    const key = keyOf(way.line.id, way.on);
    const known = this.opened.get(key);
    if (known) {
      known.listeners.add(tell);
      return known;
    }
    const listeners = new Set([tell]);
    const open: Open = { listeners, channel: this.channelTo(way, (event) => listeners.forEach((each) => each(event))) };
    this.opened.set(key, open);
    return open;
  }

  private async leave({ line, on }: Way, open: Open, tell: (event: TerminalEvent) => void): Promise<void> {
    open.listeners.delete(tell);
    if (open.listeners.size > 0) return;
    if (this.opened.get(keyOf(line.id, on)) === open) this.opened.delete(keyOf(line.id, on));
    await open.channel.then(
      (channel) => channel.close(),
      () => undefined,
    );
  }

  private async channelTo({ line, settings, on }: Way, tell: (event: TerminalEvent) => void): Promise<Channel> {
    const { adapter, serial = openSerialPort } = this.around;
    const channel = await openTextLine(on === 'real' ? line.boundTo : null, line.id, settings, { adapter, serial });
    channel.listen(
      (bytes) => tell({ kind: 'heard', atMs: Date.now(), hex: Buffer.from(bytes).toString('hex') }),
      (failure) => tell({ kind: 'failed', sentence: sentenceOf(failure) }),
    );
    return channel;
  }
}

function keyOf(lineId: string, on: Target): string {
  return `${on} ${lineId}`;
}

function textLineOf({ lines }: ProjectDocument, lineId: string): SerialLine {
  const line = lines.find(({ id }) => id === lineId) ?? refuse('not-there', 'This line is not in the project.');
  if (line.kind !== 'serial' || line.framing !== 'text') refuse('does-not-fit', `${line.name} carries no text.`);
  return line;
}
