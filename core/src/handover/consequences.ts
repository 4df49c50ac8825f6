import { compile } from '../compile/index.js';
import { causesFirst, type Finding } from '../findings/index.js';
import { type Forecast, forecast } from '../forecast/index.js';
import type { ProjectDocument } from '../model/index.js';
import { describeRequest, type Plan } from '../plan/index.js';

/** A load is told where it is otherwise by so much. */
const LOAD = 0.005;
/** A period or age is told where it is otherwise by so much, ms and as a part. */
const [LEAST_MS, PART] = [5, 0.02];
const HORIZON_MS = 20_000;
/** So many of a kind are told one by one. */
const MOST = 12;

interface Worked {
  plan: Plan;
  findings: readonly Finding[];
  ahead: Forecast;
}

/** What differences of two states of a project mean where it runs, a sentence each: requests, loads, periods, ages and findings. */
export function consequencesOf(from: ProjectDocument, to: ProjectDocument): string[] {
  const [old, now] = [from, to].map((document): Worked => {
    const { plan, findings } = compile(document);
    return { plan, findings, ahead: forecast(document, plan, { horizonMs: HORIZON_MS, dead: [], backsOff: false }) };
  }) as [Worked, Worked];
  return [...requestsText(old, now), ...lanesText(old, now), ...routesText(old, now), ...findingsText(old, now)];
}

function requestsText({ plan: old }: Worked, { plan: now }: Worked): string[] {
  const textsOf = ({ requests, endpoints }: Plan) => requests.map((request) => describeRequest(request, endpoints));
  const [before, after] = [textsOf(old), textsOf(now)];
  const [more, less] = [without(after, before), without(before, after)];
  if (more.length + less.length === 0) return [];
  const count =
    before.length === after.length ? `${after.length} requests, as before` : `${after.length} requests instead of ${before.length}`;
  const otherPace = more.flatMap((text) => {
    const twin = less.find((one) => withoutPace(one) === withoutPace(text));
    return twin ? [{ text, twin }] : [];
  });
  const paced = new Set(otherPace.flatMap(({ text, twin }) => [text, twin]));
  const own = (texts: readonly string[], begin: string) => texts.filter((text) => !paced.has(text)).map((text) => `${begin} ${text}.`);
  return [
    `It takes ${count}.`,
    ...firstOf(own(more, 'Now it')),
    ...firstOf(own(less, 'No more it')),
    ...firstOf(otherPace.map(({ text, twin }) => `It ${text} instead of ${PACE.exec(twin)?.[1] ?? ''}.`)),
  ];
}

const PACE = /, every ([\d.]+ ms)$/;

function withoutPace(text: string): string {
  return text.replace(PACE, '');
}

function lanesText({ ahead: old }: Worked, { ahead: now }: Worked): string[] {
  const before = new Map(old.lanes.map((lane) => [lane.id, lane]));
  return now.lanes.flatMap(({ id, name, load }) => {
    const was = before.get(id)?.load ?? 0;
    if (Math.abs(load - was) < LOAD) return [];
    const percent = (share: number) => `${(100 * share).toFixed(1)} %`;
    return [`${name} is asked for ${percent(load)} of its time instead of ${percent(was)}${load > 1 ? ', which it does not have' : ''}.`];
  });
}

function routesText(old: Worked, now: Worked): string[] {
  const before = new Map(old.ahead.routes.map((route) => [route.id, route.age?.worstMs ?? null]));
  const names = new Map(now.plan.routes.map(({ id, name }) => [id, name]));
  const gone = old.plan.routes.filter(({ id }) => !names.has(id)).map(({ name }) => `${name} is not carried any more.`);
  const added = now.plan.routes.filter(({ id }) => !before.has(id)).map(({ name }) => `${name} is carried now.`);
  const aged = now.ahead.routes.flatMap(({ id, age }) => {
    const [was, is] = [before.get(id), age?.worstMs];
    if (was == null || is == null || Math.abs(is - was) < Math.max(LEAST_MS, PART * was)) return [];
    return [`${names.get(id) ?? 'A route'} is up to ${Math.round(is)} ms old at its destination instead of ${Math.round(was)}.`];
  });
  return [...firstOf(gone), ...firstOf(added), ...firstOf(aged)];
}

function firstOf(texts: readonly string[]): string[] {
  return texts.length > MOST ? [...texts.slice(0, MOST), `And ${texts.length - MOST} more of that kind.`] : [...texts];
}

function findingsText({ findings: old }: Worked, { findings: now }: Worked): string[] {
  const textOf = ({ message }: Finding) => message;
  const sorted = (findings: readonly Finding[]) => [...findings].sort(causesFirst).map(textOf);
  const [more, less] = [without(sorted(now), sorted(old)), without(sorted(old), sorted(now))];
  return [...firstOf(more.map((text) => `New finding: ${text}`)), ...firstOf(less.map((text) => `Mended: ${text}`))];
}

/** What the first has beyond the second, each as often as it has it more. */
function without(first: readonly string[], second: readonly string[]): string[] {
  const left = new Map<string, number>();
  for (const text of second) left.set(text, (left.get(text) ?? 0) + 1);
  return first.filter((text) => {
    const count = left.get(text) ?? 0;
    left.set(text, count - 1);
    return count <= 0;
  });
}
