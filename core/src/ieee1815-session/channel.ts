import { Assembly, buildLink, type LinkFrame, LinkStream, segments } from '../ieee1815/index.js';

export interface ChannelRules1815 {
  as: 'control station' | 'outstation';
  /** Addresses of this end and of the other. */
  own: number;
  other: number;
  send(frame: Uint8Array): void;
  /** A whole fragment of the application layer came from the other end. */
  deliver(fragment: Uint8Array): void;
}

/** Functions of the link layer (IEEE 1815, 9.2.4): of one that asks, and of one that answers. */
const [RESET, TEST, CONFIRMED_DATA, DATA, STATE_ASKED] = [0, 2, 3, 4, 9];
const [ACKNOWLEDGED, STATE_TOLD] = [0, 11];
const SEQUENCE_END = 64;

/** Link and transport layer of one end of a connection of IEEE 1815: fragments in frames, and back. What is for somebody else is left alone. */
export class Channel1815 {
  private readonly stream = new LinkStream();
  private readonly assembly = new Assembly();
  private sequence = 0;
  private damaged = 0;
  private strange = 0;

  constructor(private readonly rules: ChannelRules1815) {}

  send(fragment: Uint8Array): void {
    for (const data of segments(fragment, this.sequence)) {
      this.put({ isPrimary: true, functionCode: DATA, data });
      this.sequence = (this.sequence + 1) % SEQUENCE_END;
    }
  }

  hear(bytes: Uint8Array): void {
    for (const { frame } of this.stream.push(bytes)) {
      if (!frame) this.damaged += 1;
      else if (frame.destination !== this.rules.own || frame.source !== this.rules.other || frame.fromMaster === this.isMaster)
        this.strange += 1;
      else this.take(frame);
    }
  }

  /** Frames whose check was wrong, octets that belonged to none, and frames that were for or from somebody else. */
  get state(): { damaged: number; lost: number; strange: number } {
    return { damaged: this.damaged, lost: this.stream.lost, strange: this.strange };
  }

  private get isMaster(): boolean {
    return this.rules.as === 'control station';
  }

  private take({ isPrimary, functionCode, data }: LinkFrame): void {
    if (!isPrimary) return;
    if (functionCode === STATE_ASKED) return this.put({ isPrimary: false, functionCode: STATE_TOLD, data: new Uint8Array() });
    if ([RESET, TEST, CONFIRMED_DATA].includes(functionCode))
      this.put({ isPrimary: false, functionCode: ACKNOWLEDGED, data: new Uint8Array() });
    if (functionCode !== DATA && functionCode !== CONFIRMED_DATA) return;
    const fragment = this.assembly.push(data);
    if (fragment) this.rules.deliver(fragment);
  }

  private put(fields: Pick<LinkFrame, 'isPrimary' | 'functionCode' | 'data'>): void {
    const { own, other, send } = this.rules;
    send(buildLink({ ...fields, fromMaster: this.isMaster, countBit: false, countValid: false, destination: other, source: own }));
  }
}
