/** Marks of an event byte by its bits (V1.1b3, 6.10). */
const RECEIVED = { begin: 0x80, damaged: 0x02, listensOnly: 0x20, broadcast: 0x40 } as const;
const SENT = { begin: 0x40, exception: 0x01, failure: 0x02, busy: 0x04, listensOnly: 0x20 } as const;
const RESTARTED = 0;
const LISTENS = 4;
const MAX_EVENTS = 64;

/** What a device on a serial line counts of its own communication, each from 0 to 65535 and around (V1.1b3, 6.8 and 6.10). */
export class BusCounters {
  /** Sound messages on the line, to whomever. */
  messages = 0;
  damaged = 0;
  exceptions = 0;
  /** Messages to it, broadcasts among them. */
  toIt = 0;
  unanswered = 0;
  /** Commands that it carried out without an exception. */
  commands = 0;
  /** It hears and does nothing else, until its communications are restarted. */
  listensOnly = false;
  private events: number[] = [];

  heard(unit: number, isMine: boolean): void {
    this.messages = next(this.messages);
    if (!isMine) return;
    this.toIt = next(this.toIt);
    const marks = (unit === 0 ? RECEIVED.broadcast : 0) | (this.listensOnly ? RECEIVED.listensOnly : 0);
    this.remember(RECEIVED.begin | marks);
  }

  heardDamage(): void {
    this.damaged = next(this.damaged);
    this.remember(RECEIVED.begin | RECEIVED.damaged);
  }

  /** What came of a message to it: an answer, or null where it stays silent. `isCommand` where it counts as one carried out. */
  answered(pdu: Uint8Array | null, isCommand: boolean): void {
    if (!pdu) {
      this.unanswered = next(this.unanswered);
      if (isCommand && !this.listensOnly) this.commands = next(this.commands);
      return;
    }
    const exception = pdu[0]! & 0x80 ? pdu[1]! : 0;
    if (exception) this.exceptions = next(this.exceptions);
    else if (isCommand) this.commands = next(this.commands);
    this.remember(SENT.begin | (exception === 0 ? 0 : exception < 4 ? SENT.exception : exception === 4 ? SENT.failure : SENT.busy));
  }

  /** Begins to count anew; its log too where that is asked for. */
  restart(clearsLog: boolean): void {
    this.clear();
    this.commands = 0;
    this.listensOnly = false;
    if (clearsLog) this.events = [];
    this.remember(RESTARTED);
  }

  clear(): void {
    this.messages = this.damaged = this.exceptions = this.toIt = this.unanswered = 0;
  }

  listen(): void {
    this.listensOnly = true;
    this.remember(LISTENS);
  }

  /** The newest first. */
  log(): readonly number[] {
    return this.events;
  }

  private remember(event: number): void {
    this.events = [event, ...this.events.slice(0, MAX_EVENTS - 1)];
  }
}

function next(count: number): number {
  return (count + 1) & 0xffff;
}
