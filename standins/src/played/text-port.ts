import type { TextLine, TextStation } from '@plain-envoy/engine/links';
import type { Received, SerialSettings } from '@plain-envoy/core/line';
import { inBackground } from '@plain-envoy/engine/background';

/** After so long without a character a text is over, whatever it ends with. */
const SILENCE_MS = 50;
/** So much may wait to be sent. */
const MOST_WAITING = 4096;
/** So many texts wait to be taken, and so long is one at most. */
const [MOST_TEXTS, LONGEST] = [100, 1024];

/** What else there is to a text port: what is told of each that comes, and what goes out for one that is sent. */
interface Around {
  onHeard?(): void;
  spoil?(bytes: Uint8Array): Promise<Uint8Array[]>;
}

/** The text port of a stand-in: what comes in is cut into texts by CR, LF or silence, what goes out waits for its turn. */
export class TextPort implements TextStation {
  private waiting = 0;
  private coming = '';
  private cameAt = 0;
  private readonly texts: string[] = [];

  constructor(
    private readonly line: TextLine,
    readonly settings: SerialSettings,
    private readonly around: Around = {},
    private readonly now: () => number = () => performance.now(),
  ) {}

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
    const bytes = Uint8Array.from(text, (character) => character.charCodeAt(0) & 0xff);
    if (this.waiting + bytes.length > MOST_WAITING) return false;
    this.waiting += bytes.length;
    inBackground(this.out(bytes).finally(() => (this.waiting -= bytes.length)));
    return true;
  }

  private async out(bytes: Uint8Array): Promise<void> {
    const all = (await this.around.spoil?.(bytes)) ?? [bytes];
    for (const one of all) await this.line.send(this, one);
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
