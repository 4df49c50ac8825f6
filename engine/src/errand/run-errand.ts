import { meets, type StepRun } from '@plain-envoy/core/errand';
import { type Comparison, type Errand, type ErrandStep, type Point, valueText, wordsFromInput } from '@plain-envoy/core/model';
import { type Outcome as Answer } from '@plain-envoy/core/outcome';

/** What an errand needs of the bench. A problem says why nothing was read or written. */
export interface ErrandWays {
  point(pointId: string): Point | undefined;
  read(point: Point): Promise<Answer<number[]>>;
  /** `isBroadcast` where every unit of its line gets it. */
  write(point: Point, words: readonly number[], isBroadcast: boolean): Promise<Answer<null>>;
}

export interface ErrandEnd {
  ok: boolean;
  sentence: string;
}

const LOOK_EACH_MS = 100;
/** An errand that goes round and round ends after so many steps. */
const MAX_STEPS = 10_000;

/**
 * Carries out the steps of an errand in their order, and tells each as it ends. It ends with the last step, at the first that
 * fails, or when the signal stops it. In a value `{2}` stands for what step 2 has read.
 */
export async function runErrand(
  { steps }: Pick<Errand, 'steps'>,
  ways: ErrandWays,
  signal: AbortSignal,
  tell: (step: StepRun) => void,
): Promise<ErrandEnd> {
  const kept = new Map<number, string>();
  const turns = new Map<number, number>();
  let at = 0;
  for (let done = 0; at < steps.length; done++) {
    if (signal.aborted) return { ok: false, sentence: 'It was stopped.' };
    if (done >= MAX_STEPS) return { ok: false, sentence: `It went round for ${MAX_STEPS} steps.` };
    const step = steps[at]!;
    const [atMs, from] = [Date.now(), performance.now()];
    const { ok, sentence, next } = await carryOut(step, { at, kept, turns, ways, signal });
    tell({ step: at + 1, atMs, ms: Math.round(performance.now() - from), ok, sentence });
    if (!ok) return { ok: false, sentence: signal.aborted ? 'It was stopped.' : `Step ${at + 1}: ${sentence}` };
    at = next ?? at + 1;
  }
  return { ok: true, sentence: 'It ran to its end.' };
}

interface ErrandSurroundings {
  at: number;
  /** What was read, by the index of its step. */
  kept: Map<number, string>;
  /** How often a repetition has gone back. */
  turns: Map<number, number>;
  ways: ErrandWays;
  signal: AbortSignal;
}

interface Carried {
  ok: boolean;
  sentence: string;
  next?: number;
}

async function carryOut(step: ErrandStep, around: ErrandSurroundings): Promise<Carried> {
  const { at, kept, turns, ways, signal } = around;
  switch (step.kind) {
    case 'write': {
      const point = ways.point(step.pointId);
      if (!point) return gone;
      const text = step.value.replace(/\{(\d+)\}/g, (_, number: string) => kept.get(Number(number) - 1) ?? '');
      const words = wordsFromInput(text, point);
      if (!words.ok) return failed(words.problem.message);
      const written = await ways.write(point, words.value, step.broadcast);
      if (written.ok && step.broadcast) return good(`${point.name} was sent as ${text} to every unit of its line; nobody confirms it.`);
      return written.ok ? good(`${point.name} was set to ${text}.`) : failed(`${point.name} was not written: ${written.problem.message}`);
    }
    case 'read': {
      const point = ways.point(step.pointId);
      if (!point) return gone;
      const words = await ways.read(point);
      if (!words.ok) return failed(`${point.name} could not be read: ${words.problem.message}`);
      kept.set(at, valueText(words.value, point));
      return good(`${point.name} is ${kept.get(at)}.`);
    }
    case 'wait':
      return wait(step, around);
    case 'compare':
      return compare(step, ways);
    case 'pause':
      await pause(step.ms, signal);
      return good(`${step.ms} ms went by.`);
    case 'repeat': {
      const turn = (turns.get(at) ?? 0) + 1;
      turns.set(at, turn > step.times ? 0 : turn);
      return turn > step.times
        ? good(`It has gone back ${step.times} times.`)
        : { ok: true, sentence: `Back to step ${step.from}, time ${turn}.`, next: step.from - 1 };
    }
    case 'end':
      return { ok: true, sentence: 'It ends here.', next: Infinity };
  }
}

async function wait(step: Extract<ErrandStep, { kind: 'wait' }>, { ways, signal }: ErrandSurroundings): Promise<Carried> {
  const point = ways.point(step.pointId);
  if (!point) return gone;
  const until = performance.now() + step.withinMs;
  let last = 'nothing was read';
  for (;;) {
    const words = await ways.read(point);
    if (words.ok) {
      const met = meets(words.value, point, step.is, step.value);
      if (!met.ok) return failed(met.problem.message);
      last = `it is ${valueText(words.value, point)}`;
      if (met.value) return good(`${point.name}: ${last}.`);
    } else last = words.problem.message.replace(/\.$/, '');
    if (signal.aborted || performance.now() >= until) return failed(`${point.name} did not become so within ${step.withinMs} ms; ${last}.`);
    await pause(LOOK_EACH_MS, signal);
  }
}

async function compare(step: Extract<ErrandStep, { kind: 'compare' }>, ways: ErrandWays): Promise<Carried> {
  const point = ways.point(step.pointId);
  const other = step.sameAsId ? ways.point(step.sameAsId) : null;
  if (!point || other === undefined) return gone;
  const words = await ways.read(point);
  if (!words.ok) return failed(`${point.name} could not be read: ${words.problem.message}`);
  const seen = valueText(words.value, point);
  const against = other ? await otherText(other, ways) : { ok: true as const, value: step.value };
  if (!against.ok) return failed(against.problem.message);
  const met = meets(words.value, point, step.is, against.value);
  if (!met.ok) return failed(met.problem.message);
  if (met.value) return good(`${point.name} is ${seen}, as it should be.`);
  const sentence = `${point.name} is ${seen}; it should ${should[step.is]} ${against.value}.`;
  return step.else === null ? failed(sentence) : { ok: true, sentence, next: step.else - 1 };
}

/** What another point holds, as it would be typed. */
async function otherText(point: Point, ways: ErrandWays): Promise<Answer<string>> {
  const words = await ways.read(point);
  if (!words.ok) return words;
  const bare = { ...point, unit: '', codes: [] };
  return { ok: true, value: valueText(words.value, bare) };
}

const should: Readonly<Record<Comparison, string>> = {
  equals: 'be',
  differs: 'not be',
  above: 'be above',
  below: 'be below',
  has: 'have on',
  lacks: 'have off',
};

const gone: Carried = { ok: false, sentence: 'Its point is gone from the project.' };

function good(sentence: string): Carried {
  return { ok: true, sentence };
}

function failed(sentence: string): Carried {
  return { ok: false, sentence };
}

/** Ends early when the signal stops the errand. */
function pause(ms: number, signal: AbortSignal): Promise<void> {
  return new Promise((done) => {
    if (signal.aborted) return done();
    const end = () => {
      clearTimeout(timer);
      signal.removeEventListener('abort', end);
      done();
    };
    const timer = setTimeout(end, ms);
    signal.addEventListener('abort', end);
  });
}
