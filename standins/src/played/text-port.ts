import type { TextLine, TextStation } from '@plain-envoy/engine/links';
import type { Handshake, Received, SerialSettings } from '@plain-envoy/core/line';
import { Outgoing } from '@plain-envoy/engine/text';

/** After so long without a character a text is over, whatever it ends with. */
const SILENCE_MS = 50;
/** So many texts wait to be taken, and so long is one at most. */
const [MOST_TEXTS, LONGEST] = [100, 1024];

/** What else there is to a text port: what is told of each that comes, and what goes out for one that is sent. */
interface Around {
  onHeard?(): void;
  spoil?(bytes: Uint8Array): Promise<Uint8Array[]>;
}

/** The text port of a stand-in: what comes in is cut into texts by CR, LF or silence, what goes out waits for its turn. */
export class TextPort implements TextStation {
  private coming = '';
  private cameAt = 0;
  private readonly texts: string[] = [];
  private readonly outgoing: Outgoing;

  constructor(
    private readonly line: TextLine,
    readonly settings: SerialSettings,
    private readonly around: Around = {},
    private readonly now: () => number = () => performance.now(),
    readonly handshake: Handshake = 'none',
  ) {
    this.outgoing = new Outgoing(async (bytes) => {
      for (const one of (await around.spoil?.(bytes)) ?? [bytes]) await line.send(this, one);
    });
  }

  start(): void {
    this.line.attach(this);
  }

  stop(): void {
    this.line.detach(this);
  }

  /** A character that came damaged is not taken. */
  hear(bytes: Uint8Array, { framingErrors, parityErrors }: Pick<Received, 'framingErrors' | 'parityErrors'>): void {
    this.cut();
    const damaged = new Set([...framingErrors, ...parityErrors]);
    this.coming += String.fromCharCode(...bytes.filter((_, at) => !damaged.has(at)));
    this.cameAt = this.now();
    this.around.onHeard?.();
    // A CR that came last may have an LF after it.
    for (let end; (end = /\r\n|\r(?=[^\n])|\n/.exec(this.coming)) || this.coming.length > LONGEST;)
      this.keep(end ? end.index + end[0].length : LONGEST);
  }

  /** False where more waits than fits. */
  send(text: string): boolean {
    return this.outgoing.send(Uint8Array.from(text, (character) => character.charCodeAt(0) & 0xff));
  }

  /** The next text that came; empty where none did. */
  received(): string {
    this.cut();
    return this.texts.shift() ?? '';
  }

  private cut(): void {
    if (this.coming !== '' && this.now() - this.cameAt >= SILENCE_MS) this.keep(this.coming.length);
  }

  private keep(length: number): void {
    if (this.texts.length < MOST_TEXTS) this.texts.push(this.coming.slice(0, length));
    this.coming = this.coming.slice(length);
  }
}
