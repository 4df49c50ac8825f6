import type { ProjectDocument } from '../model/index.js';
import type { Plan, PlannedRequest } from '../plan/index.js';
import type { Finding } from '../findings/index.js';
import { type Case, caseOf, type Place, type Seen } from './case.js';
import type { CauseDefinition } from './cause.js';
import { causes } from './list.js';
import { refusals } from './causes/refusals.js';
import { slowness } from './causes/slowness.js';
import { standstill } from './causes/standstill.js';
import { type Signs, signsOf, type SignId } from './signs.js';
import { type TellingTest, type TestId, tests } from './tests.js';

/** One thing that may be the reason, with what speaks for it and against it, and where it is mended. */
export interface Cause {
  cause: string;
  sentence: string;
  evidence: string;
  /** What else speaks for it, a sentence each. */
  more: string[];
  /** What speaks against it, a sentence each. */
  against: string[];
  /** How probable it is among all that may be the reason, 0 to 1. */
  likelihood: number;
  at: Place;
}

/** Why a device does not do what it should, the most probable reason first. */
export interface Diagnosis {
  deviceId: string;
  name: string;
  /** What is seen: `18 of its last 20 answers did not come`. */
  seen: string;
  causes: Cause[];
  /** What would tell the first two causes apart; null where there is only one, or nothing would. */
  test: TellingTest | null;
}

/** Looks at every device whose last tries did not all end well, or that is slower than stated. */
export function diagnose(document: ProjectDocument, plan: Plan, findings: readonly Finding[], seen: Seen): Diagnosis[] {
  const asked = new Map<string, PlannedRequest[]>();
  for (const request of plan.requests) {
    const known = asked.get(request.deviceId);
    if (known) known.push(request);
    else asked.set(request.deviceId, [request]);
  }
  return [...asked].flatMap(([deviceId, requests]): Diagnosis[] => {
    const counters = seen.device(deviceId);
    const device = document.devices.find(({ id }) => id === deviceId);
    if (!counters || !device || counters.recent.length === 0) return [];
    const of = caseOf(document, device, counters, requests, findings, seen, asked);
    const weighed = weigh(of, signsOf(of));
    const plain = [...refusals(of), ...slowness(of), ...standstill(of)].map((row): Judged => {
      return { cause: { ...row, more: [], against: [], likelihood: weighed.length ? PLAIN : 1 }, told: [] };
    });
    // What is seen outright comes first only where nothing else is the matter, or most of its tries end so.
    const judged = refusedMostly(of) ? [...plain, ...weighed] : [...weighed, ...plain];
    if (judged.length === 0) return [];
    return [{ deviceId, name: device.name, seen: seenText(of), causes: judged.map(({ cause }) => cause), test: testFor(of, judged) }];
  });
}

interface Judged {
  cause: Cause;
  told: readonly TestId[];
}

/** Beside something else that is the matter, what is seen outright is half as probable. */
const PLAIN = 0.5;
/** A sign that a cause says nothing of is seen by chance so often. */
const BY_CHANCE = 0.03;
/** A sign that is so probable under a cause speaks against it where it is missing. */
const EXPECTED = 0.5;
/** Causes below this are not worth a line. */
const WORTH = 0.01;

/** Multiplies for each cause how probable it is with how probable what is seen would be, and what is not seen. */
function weigh(of: Case, signs: Signs): Judged[] {
  if (!troubles.some((sign) => signs.has(sign))) return [];
  const possible = causes.filter(
    ({ medium, needs }) => (medium === 'any' || medium === of.medium) && needs.some((sign) => signs.has(sign)),
  );
  const weights = possible.map((cause) => cause.prior * seenUnder(cause, signs));
  const whole = weights.reduce((sum, weight) => sum + weight, 0);
  return possible
    .map((cause, index): Judged => ({ cause: causeOf(cause, of, signs, weights[index]! / whole), told: cause.told ?? [] }))
    .filter(({ cause }) => cause.likelihood >= WORTH)
    .sort((a, b) => b.cause.likelihood - a.cause.likelihood);
}

function seenUnder({ shows }: CauseDefinition, signs: Signs): number {
  let probable = 1;
  for (const sign of signs.keys()) probable *= shows[sign] ?? BY_CHANCE;
  for (const [sign, expected] of Object.entries(shows) as [SignId, number][]) {
    if (expected >= EXPECTED && !signs.has(sign) && !isExcluded(sign, signs)) probable *= 1 - expected;
  }
  return probable;
}

/** Without one of these nothing is the matter, whatever else is known of a device. */
const troubles: readonly SignId[] = [
  ...(['silent-all', 'silent-some', 'damaged-all', 'damaged-some', 'unasked'] as const),
  ...(['no-path', 'no-connection', 'refused-connection', 'closed-connection'] as const),
];

/** Of two signs that exclude each other one is always missing, which says nothing. */
const eitherOr: readonly (readonly SignId[])[] = [
  ['silent-all', 'silent-some', 'damaged-all', 'damaged-some', 'no-path', 'no-connection', 'refused-connection', 'closed-connection'],
  ['neighbours-well', 'neighbours-alike'],
];

function isExcluded(sign: SignId, signs: Signs): boolean {
  return eitherOr.some((group) => group.includes(sign) && group.some((other) => other !== sign && signs.has(other)));
}

function causeOf(definition: CauseDefinition, of: Case, signs: Signs, likelihood: number): Cause {
  const { id, shows, needs } = definition;
  const speaks = [...signs].filter(([sign]) => (shows[sign] ?? 0) > EXPECTED || needs.includes(sign));
  // What it needs is its own, and said first.
  const [evidence, ...more] = speaks.sort(([a], [b]) => Number(needs.includes(b)) - Number(needs.includes(a))).map(([, text]) => text);
  const against = [...signs].filter(([sign]) => (shows[sign] ?? 0) <= BY_CHANCE).map(([, text]) => text);
  return {
    cause: id,
    sentence: definition.sentence(of),
    evidence: evidence ?? '',
    more,
    against,
    likelihood,
    at: definition.at(of),
  };
}

/** A test of which one of the first two causes would come out, and the other not. */
function testFor(of: Case, [first, second]: readonly Judged[]): TellingTest | null {
  if (!first || !second) return null;
  const telling = [...first.told, ...second.told].filter((id) => first.told.includes(id) !== second.told.includes(id));
  for (const id of telling) {
    const test = tests[id](of);
    if (test) return test;
  }
  return null;
}

function refusedMostly({ tries }: Case): boolean {
  const refused = [...tries.refused.values()].reduce((sum, count) => sum + count, 0);
  return refused * 2 >= tries.all;
}

function seenText({ tries, counters }: Case): string {
  const silent = tries.silent + tries.told;
  const parts = [
    tries.unconnected && `${tries.unconnected} without a connection`,
    silent && `${silent} without an answer`,
    tries.damaged && `${tries.damaged} with a damaged answer`,
    tries.noPath && `${tries.noPath} with no way there`,
    ...[...tries.refused].map(([code, count]) => `${count} refused with exception ${code}`),
  ].filter(Boolean);
  if (parts.length === 0) return `It answers, in ${Math.round(counters.meanMs ?? 0)} ms.`;
  return `Of its last ${tries.all} tries ${parts.join(', ')}.`;
}
