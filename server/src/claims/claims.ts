import { type Dial, dialOf, type Endpoint } from '@plain-envoy/core/plan';
import { refuse } from '../problem/index.js';

/** Who uses something of the real plant: a project, with what it does there as it goes on after “used by …, ”. */
export interface Holder {
  id: string;
  name: string;
  doing: string;
}

/** What an endpoint is on the real plant, as it is said; nothing where it is reached nowhere. */
export function thingOf(endpoint: Endpoint): string[] {
  return thingAt(dialOf(endpoint, 'real', 0));
}

/** The same for what is dialled there: a serial port of this machine, or an address and its TCP port. */
export function thingAt(dial: Dial): string[] {
  if (dial.kind === 'serial') return [dial.path];
  if (dial.kind === 'text') return dial.to === null ? [] : [dial.to];
  return dial.kind === 'socket' || dial.kind === 'station' ? [`${dial.host}:${dial.port}`] : [];
}

/** Serial ports and devices of the real plant that projects use just now; none is given to two projects. */
export class Claims {
  private readonly held = new Map<object, { holder: Holder; things: ReadonlySet<string> }>();

  /** Takes these for `user` until it leaves them; refuses, and takes none, where another project has one of them. */
  take(user: object, holder: Holder, things: readonly string[]): void {
    for (const thing of things) {
      const other = this.otherThan(holder.id, thing);
      if (other) refuse('not-now', `${thing} is used by “${other.name}”, ${other.doing}. End that first.`, ['on']);
    }
    this.held.set(user, { holder, things: new Set(things) });
  }

  leave(user: object): void {
    this.held.delete(user);
  }

  /** The other project that uses this; null where none does. */
  otherThan(projectId: string, thing: string): Holder | null {
    for (const { holder, things } of this.held.values()) if (holder.id !== projectId && things.has(thing)) return holder;
    return null;
  }
}
