import type { Target } from '@plain-envoy/core/plan';
import { refuse } from '../problem/index.js';

/** What a person has allowed on the real plant of a project, and until when, ms since 1970. */
export interface Grant {
  may: 'read' | 'write';
  untilMs: number;
}

const refusals: Readonly<Record<Grant['may'], string>> = {
  read: 'Real lines are not armed: a person arms them first, because frames then go to the real plant.',
  write: 'The real plant is not armed: a person sees what would be written there, and arms it first.',
};

/**
 * The one place that says whether the real plant may be touched. A grant ends by itself; writing includes reading. Whoever goes
 * there asks first, and `onEnd` tells those who are there when it is over, with why.
 */
export class Arming {
  private readonly grants = new Map<string, Grant & { timer: NodeJS.Timeout; over: AbortController }>();

  constructor(private readonly onEnd: (projectId: string, because: string | null) => void) {}

  /** Until when this is allowed; null where it is not. */
  until(projectId: string, may: Grant['may']): number | null {
    const grant = this.grants.get(projectId);
    return grant && (grant.may === 'write' || may === 'read') ? grant.untilMs : null;
  }

  /** Refuses with 403 where somebody wants to do this on the real plant and nobody has allowed it. */
  allow(projectId: string, on: Target, may: Grant['may']): void {
    if (on === 'real' && this.until(projectId, may) === null) refuse('not-armed', refusals[may], ['on']);
  }

  /** Fires when what is allowed now is over; null where nothing is. */
  over(projectId: string): AbortSignal | null {
    return this.grants.get(projectId)?.over.signal ?? null;
  }

  /** Allows it from now on for so many minutes. What was allowed before and is more goes on. */
  arm(projectId: string, may: Grant['may'], minutes: number): void {
    const before = this.grants.get(projectId);
    if (before?.may === 'write' && may === 'read') return;
    clearTimeout(before?.timer);
    const timer = setTimeout(() => this.disarm(projectId, 'The time for which the real plant was armed is over.'), minutes * 60_000);
    this.grants.set(projectId, { may, untilMs: Date.now() + minutes * 60_000, timer, over: before?.over ?? new AbortController() });
  }

  disarm(projectId: string, because: string | null = null): void {
    const grant = this.grants.get(projectId);
    if (!grant) return;
    clearTimeout(grant.timer);
    this.grants.delete(projectId);
    grant.over.abort();
    this.onEnd(projectId, because);
  }

  end(): void {
    for (const { timer, over } of this.grants.values()) {
      clearTimeout(timer);
      over.abort();
    }
    this.grants.clear();
  }
}
