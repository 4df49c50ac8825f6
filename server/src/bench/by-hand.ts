import type { ByHand as Doing } from '@plain-envoy/core/feed';
import { InquiryAsk } from '@plain-envoy/core/codec';
import { atItsPlace, type Point, type ProjectDocument, valueText, wordsFromInput } from '@plain-envoy/core/model';
import { Pattern, patternNames, valueAt } from '@plain-envoy/core/pattern';
import type { Plan } from '@plain-envoy/core/plan';
import { wordsFor } from '@plain-envoy/core/route';
import type { EngineHost } from '@plain-envoy/engine/worker';
import { v7 as newId } from 'uuid';
import { z } from 'zod';
import { refuse } from '../problem/index.js';

const Typed = z.string().max(1000, 'At most 1000 characters.');

export const AskWrite = z.strictObject({
  pointId: z.uuid('That is no id of a point.'),
  value: Typed,
  broadcast: z.boolean().default(false).describe('To every unit of its serial line; nobody confirms it'),
});
export type AskWrite = z.infer<typeof AskWrite>;
export const AskForce = z.strictObject({
  routeId: z.uuid('That is no id of a route.'),
  value: Typed.nullable().describe('In units of the destination; null releases it'),
});
export type AskForce = z.infer<typeof AskForce>;
export const AskInquiry = z.strictObject({
  deviceId: z.uuid('That is no id of a device.'),
  ask: InquiryAsk,
  confirmed: z.boolean().default(false).describe('A person has confirmed what it changes in the device'),
});
export type AskInquiry = z.infer<typeof AskInquiry>;
export const AskPattern = z.strictObject({ pointId: z.uuid('That is no id of a point.'), pattern: Pattern });
export type AskPattern = z.infer<typeof AskPattern>;

/** What is done by hand now needs of the bench that runs. */
export interface Running {
  engine: EngineHost;
  document: ProjectDocument;
  plan: Plan;
  write(point: Point, words: number[]): Promise<void>;
}

interface Moving {
  pointId: string;
  text: string;
  untilMs: number;
  timer: NodeJS.Timeout;
}

/** What a person does to a running bench: routes that are forced, and values that move by themselves for a while. */
export class ByHand {
  private readonly forced = new Map<string, { name: string; text: string }>();
  private readonly moving = new Map<string, Moving>();

  constructor(private readonly onChange: () => void) {}

  /** What is going on, for the sign that everybody sees. */
  list(): Doing[] {
    return [
      ...[...this.forced].map(([id, { name, text }]): Doing => ({ kind: 'forced', id, name, text })),
      ...[...this.moving].map(([id, { pointId, text, untilMs }]): Doing => ({ kind: 'pattern', id, pointId, text, untilMs })),
    ];
  }

  /** Keeps a value at the destination of a route until it is released. */
  force({ engine, plan }: Running, { routeId, value }: AskForce): string {
    const route =
      plan.routes.find(({ id }) => id === routeId) ?? refuse('does-not-fit', 'This route is not carried just now.', ['routeId']);
    if (value === null) {
      this.forced.delete(routeId);
      engine.force(routeId, null);
      this.onChange();
      return `${route.destination.name} is released.`;
    }
    const typed = wordsFromInput(value, route.destination);
    if (!typed.ok) refuse('does-not-fit', typed.problem.message, ['value']);
    const words = atItsPlace(typed.value, route.destination);
    const text = valueText(words, route.destination);
    this.forced.set(routeId, { name: route.name, text });
    engine.force(routeId, words);
    this.onChange();
    return `${route.name} is forced to ${text}.`;
  }

  /** Lets a value move by itself. A write that fails ends it. */
  start(running: Running, { pointId, pattern }: AskPattern): string {
    const point =
      running.document.points.find(({ id }) => id === pointId) ?? refuse('not-there', 'This point is not in the project.', ['pointId']);
    for (const edge of pattern.kind === 'toggle' ? [0, 1] : [pattern.low, pattern.high]) {
      const words = wordsFor(edge, { destination: point, transforms: [] });
      if (!words.ok) refuse('does-not-fit', words.problem.message, ['pattern', edge === pattern.low ? 'low' : 'high']);
    }
    if ([...this.moving.values()].some((moving) => moving.pointId === pointId))
      refuse('not-now', `${point.name} moves already. End that first.`);
    const [id, from] = [newId(), performance.now()];
    let isBusy = false;
    const turn = () => {
      const elapsedMs = performance.now() - from;
      if (elapsedMs >= pattern.forMs) return this.end(id);
      const words = wordsFor(valueAt(pattern, elapsedMs), { destination: point, transforms: [] });
      if (isBusy || !words.ok) return;
      isBusy = true;
      void running.write(point, words.value).then(
        () => (isBusy = false),
        () => this.end(id),
      );
    };
    const timer = setInterval(turn, pattern.everyMs);
    const text = `${point.name}: ${patternNames[pattern.kind]}`;
    this.moving.set(id, { pointId, text, untilMs: Date.now() + pattern.forMs, timer });
    turn();
    this.onChange();
    return `${text}, for ${Math.round(pattern.forMs / 1000)} s.`;
  }

  end(id: string): void {
    clearInterval(this.moving.get(id)?.timer);
    if (this.moving.delete(id)) this.onChange();
  }

  /** Nothing is done by hand any more. */
  clear(): void {
    for (const { timer } of this.moving.values()) clearInterval(timer);
    this.moving.clear();
    this.forced.clear();
  }
}
