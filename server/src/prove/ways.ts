import type { Device, ProjectDocument } from '@plain-envoy/core/model';
import { type Dial, dialOf, type Endpoint, type Target, type Way, wayTo } from '@plain-envoy/core/plan';
import type { Arming, Grant } from '../arming/index.js';
import { type Claims, thingAt } from '../claims/index.js';
import { refuse } from '../problem/index.js';
import { whileArmed } from './while-armed.js';

const OVER = 'What was allowed on the real plant is over, so it ended here.';

/** What a walk tells last when it may not go on. */
export interface Ended {
  kind: 'failed';
  sentence: string;
}

export interface Grounds {
  arming: Arming;
  claims: Claims;
  /** Where the stand-ins listen now. */
  standInsPort(): number;
}

/** How whoever is not the bench gets to devices of a project: whether it may, where it dials, and what belongs to it meanwhile. */
export class Ways {
  constructor(private readonly grounds: Grounds) {}

  /** Refuses what nobody has allowed on the real plant. */
  allow({ project }: ProjectDocument, on: Target, may: Grant['may']): void {
    this.grounds.arming.allow(project.id, on, may);
  }

  to(document: ProjectDocument, deviceId: string): Way {
    const way = wayTo(document, deviceId);
    return way.ok ? way.value : refuse('does-not-fit', way.problem.message, ['deviceId']);
  }

  dial(endpoint: Endpoint, on: Target): Dial {
    const dial = dialOf(endpoint, on, this.grounds.standInsPort());
    return dial.kind === 'nowhere' ? refuse('does-not-fit', `${endpoint.name} is not asked: ${dial.why}`, ['deviceId']) : dial;
  }

  /** On the real plant it ends when what was allowed there is over, and what is dialled belongs to this project until it ends. */
  whileAllowed<T>({ project }: ProjectDocument, on: Target, events: AsyncGenerator<T>, dial?: Dial): AsyncGenerator<T | Ended> {
    const { arming, claims } = this.grounds;
    const over = on === 'real' ? arming.over(project.id) : null;
    if (!over) return events;
    const walk = {};
    claims.take(walk, { ...project, doing: 'which tests there' }, dial ? thingAt(dial) : []);
    return leaving(whileArmed<T | Ended>(events, over, { kind: 'failed', sentence: OVER }), () => claims.leave(walk));
  }
}

/** The same events; whatever way they end, something is left then. */
export async function* leaving<T>(events: AsyncGenerator<T>, leave: () => void): AsyncGenerator<T> {
  try {
    yield* events;
  } finally {
    leave();
  }
}

export function deviceOf(document: ProjectDocument, deviceId: string): Device {
  return document.devices.find(({ id }) => id === deviceId) ?? refuse('not-there', 'This device is not in the project.', ['deviceId']);
}
