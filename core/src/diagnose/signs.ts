import { sentenceOf } from '../failure/index.js';
import type { LateOnLine } from '../feed/index.js';
import { type Case, duplicateAddressOf, duplicateUnitOf, found, STREAK } from './case.js';

/** Everything that may be seen of a device that does not do what it should. */
export const signIds = [
  'silent-all',
  'silent-some',
  'damaged-all',
  'damaged-some',
  'other-unit',
  'half',
  'garbled',
  'late',
  'unasked',
  'neighbours-well',
  'neighbours-alike',
  'settings-differ',
  'unit-twice',
  'address-twice',
  'gateway-outwaits',
  'timeout-short',
  'loss-stated',
  'behind-others',
  'no-path',
  'refused-connection',
  'closed-connection',
  'no-connection',
] as const;
export type SignId = (typeof signIds)[number];

export type Signs = ReadonlyMap<SignId, string>;

/** So many answers must be missing, and be expected to miss among the others were they treated alike: fewer may be chance. */
const EVIDENT = 6;
/** Less than this part of the share that is missing behind others is as good as none. */
const FEWER = 5;

/** What is seen now, each in a sentence that a person can check. */
export function signsOf(of: Case): Signs {
  const { tries, neighbours, counters, gateway, device, damage } = of;
  const signs = new Map<SignId, string>();
  const see = (id: SignId, isSeen: unknown, text: string | (() => string)) => {
    if (isSeen) signs.set(id, typeof text === 'string' ? text : text());
  };
  const nothing = tries.silent + tries.told;
  const isNever = tries.answered === 0;
  const how = tries.told ? `${gateway?.name ?? 'The gateway'} says that nothing sound came (exception 11)` : 'Nothing came';
  see('silent-all', nothing > 0 && isNever, () => `${how}, ${nothing} times in a row.`);
  see(
    'silent-some',
    nothing > 0 && !isNever,
    () => `${how} for ${nothing} of the last ${tries.all} questions; ${tries.answered} were answered.`,
  );
  see('damaged-all', tries.damaged > 0 && isNever, () => `All of the last ${tries.damaged} answers were damaged.`);
  see('damaged-some', tries.damaged > 0 && !isNever, () => `${tries.damaged} of the last ${tries.all} answers were damaged.`);
  if (damage) {
    const { failure, heard } = damage;
    const text = `${sentenceOf(failure)}${heard ? ` Heard on the line ${heard.count} times, which only stand-ins tell.` : ''}`;
    see(failure.code === 'wrong-unit' ? 'other-unit' : failure.code === 'half-answer' ? 'half' : 'garbled', true, text);
  }
  const late = lateOf(of);
  see('late', late && isMissing(of), () => late!);
  see('unasked', !isMissing(of) && isStraying(of), () => `${counters.late} answers came that nobody had asked for.`);
  const well = neighbours.filter((row) => row.tries.answered > 0);
  see('neighbours-well', well.length > 0, () => `Its neighbour ${well[0]!.device.name} answers on the same line.`);
  const alike = neighbours.filter((row) => row.tries.answered === 0);
  see(
    'neighbours-alike',
    isNever && neighbours.length > 1 && alike.length === neighbours.length,
    () => `${alike.length} other devices on its line are silent as well.`,
  );
  see('settings-differ', found(of, 'settings-differ'), () => found(of, 'settings-differ')!.message);
  const twin = duplicateUnitOf(of);
  see('unit-twice', twin, () => `${device.name} and ${twin} have the same unit ID on this line.`);
  const address = duplicateAddressOf(of);
  see('address-twice', address, () => `${of.subject.name} and ${address} have the same address.`);
  see('gateway-outwaits', found(of, 'gateway-outwaits'), () => found(of, 'gateway-outwaits')!.message);
  see('timeout-short', found(of, 'timeout-below-delay'), () => found(of, 'timeout-below-delay')!.message);
  see('loss-stated', device.lossPercent > 0, () => `${device.lossPercent} % of its answers are expected to be lost.`);
  see('behind-others', isBehindOthers(of), () => behindText(of));
  see(
    'no-path',
    tries.noPath > 0,
    () => found(of, 'unit-not-forwarded')?.message ?? 'It answers exception 10, which says that it has no way to this unit.',
  );
  const failed = tries.unconnected > 0 ? (counters.lastFailure?.code ?? 'unreachable') : null;
  see('refused-connection', failed === 'refused-connection', counters.lastError ?? '');
  see('closed-connection', failed === 'closed-by-peer' || failed === 'closed-at-once', counters.lastError ?? '');
  see('no-connection', failed && !signs.has('refused-connection') && !signs.has('closed-connection'), counters.lastError ?? '');
  return signs;
}

function isMissing({ tries }: Case): boolean {
  return tries.silent + tries.told > 0;
}

function isStraying({ counters }: Case): boolean {
  return counters.triesSinceLate !== null && counters.triesSinceLate < STREAK;
}

/** A timeout is proposed with so much to spare. */
const MARGIN = 1.25;

/** Answers that came after their timeout, and what was measured; null where there were none of late. */
function lateOf(of: Case): string | null {
  const { counters, gateway, seen, device, medium } = of;
  if (isStraying(of)) return `${cameLate(counters.late)}${measured(counters.worstLateMs, '')}`;
  const heard = gateway && medium === 'line' ? seen.onLine?.(device.id) : null;
  if (!heard || isLongAgo(heard)) return null;
  return `${cameLate(heard.count)}${measured(heard.worstMs, ' This was measured on stand-ins only.')}`;
}

/** One that came late explains what is missing now only while the others come late as well. */
function isLongAgo({ worstMs, lastAtMs, missedSince }: LateOnLine): boolean {
  return missedSince >= STREAK && Date.now() - lastAtMs > STREAK * worstMs;
}

function cameLate(count: number): string {
  return count === 1 ? '1 answer came when nobody waited for it any more' : `${count} answers came when nobody waited for them any more`;
}

function measured(worstMs: number | null, where: string): string {
  if (worstMs === null) return '.';
  const enough = Math.ceil((worstMs * MARGIN) / 50) * 50;
  return `, the latest ${Math.round(worstMs)} ms after its question: a timeout of ${enough} ms would do.${where}`;
}

/** It answers what it is sent when it works on nothing else, and not all that comes meanwhile. */
function isBehindOthers({ port, counters: { ahead, behind } }: Case): boolean {
  if (port?.kind !== 'ethernet' || port.framing !== 'tcp' || port.openTransactions < 2) return false;
  if (behind.silent < EVIDENT || shareOf(behind) * ahead.tries < EVIDENT) return false;
  return shareOf(ahead) <= shareOf(behind) / FEWER;
}

function behindText({ counters: { ahead, behind } }: Case): string {
  return `Of late ${percent(behind)} of the questions sent while another was open got no answer, and ${percent(ahead)} of those that were sent alone.`;
}

function shareOf({ tries, silent }: { tries: number; silent: number }): number {
  return silent / tries;
}

function percent(ended: { tries: number; silent: number }): string {
  return `${Math.round(shareOf(ended) * 100)} %`;
}
