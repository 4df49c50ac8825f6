import { compileRead, compileWrite } from '@plain-envoy/core/compile';
import type { SettingEvent } from '@plain-envoy/core/feed';
import { type Point, pointWidth, type ProjectDocument, valueText } from '@plain-envoy/core/model';
import { inWritingOrder, verdictOn } from '@plain-envoy/core/settings';
import { explainFailure, isSilence } from '../runner/index.js';
import { bad } from '@plain-envoy/core/outcome';
import type { PointsOf } from './read-points.js';
import type { RequestWay } from './way.js';

/** A point, and the registers that it shall hold; a bit of a register at its place. */
export interface ToWrite {
  point: Point;
  words: readonly number[];
}

type Told = Extract<SettingEvent, { kind: 'written' }>;

/**
 * Writes points of a device one after the other, those that release others first, and reads each back: what it holds then is told,
 * not what was sent. One that is refused does not keep the others; a device that does not answer is not written to any more.
 */
export async function* writePoints({ document }: PointsOf, wanted: readonly ToWrite[], way: RequestWay): AsyncGenerator<SettingEvent> {
  const from = performance.now();
  const wordsOf = new Map(wanted.map(({ point, words }) => [point.id, words]));
  const points = inWritingOrder(wanted.map(({ point }) => point));
  for (const [index, point] of points.entries()) {
    const { isSilent, ...told } = await writeOne(document, point, wordsOf.get(point.id)!, way);
    yield { kind: 'written', pointId: point.id, ...told };
    if (isSilent) {
      const left = points.length - index - 1;
      const rest = left ? ` ${left} more ${left === 1 ? 'was' : 'were'} not written.` : '';
      return yield { kind: 'failed', sentence: `${told.sentence}${rest}` };
    }
    yield { kind: 'progress', done: index + 1, total: points.length };
  }
  yield { kind: 'done', tookMs: Math.round(performance.now() - from) };
}

async function writeOne(
  document: ProjectDocument,
  point: Point,
  words: readonly number[],
  way: RequestWay,
): Promise<Omit<Told, 'kind' | 'pointId'> & { isSilent: boolean }> {
  const write = compileWrite(document, point);
  if (!write.ok) return refused(`${point.name} was not written: ${write.problem.message}`, false);
  const outcome = await way.write(write.value, words);
  if (outcome.kind !== 'written')
    return refused(
      `${point.name} was not written. ${explainFailure(outcome, write.value.request, write.value.endpoint)}`,
      isSilence(outcome),
    );
  const read = point.access === 'write' ? bad('it can only be written.') : compileRead(document, point);
  const unread = { state: 'unread', words: null, isSilent: false } as const;
  if (!read.ok) return { ...unread, sentence: `${point.name} was written; it cannot be read back: ${read.problem.message}` };
  const back = await way.read(read.value);
  if (back.kind !== 'values')
    return {
      ...unread,
      isSilent: isSilence(back),
      sentence: `${point.name} was written and not read back. ${explainFailure(back, read.value.request, read.value.endpoint)}`,
    };
  const held = back.values.slice(0, pointWidth(point));
  if (verdictOn(point, words, held) === 'same')
    return { state: 'holds', words: held, isSilent: false, sentence: `${point.name} holds ${valueText(held, point)}.` };
  return { state: 'differs', words: held, isSilent: false, sentence: notTaken(document, point, words, held) };
}

function refused(sentence: string, isSilent: boolean) {
  return { state: 'refused', words: null, sentence, isSilent } as const;
}

function notTaken({ points }: ProjectDocument, point: Point, words: readonly number[], held: readonly number[]): string {
  const release = points.find(({ id }) => id === point.releasedBy);
  const why = release
    ? `It is released by ${release.name}; set that first.`
    : 'It may be limited or rounded by the device, protected, or laid out otherwise than the map says.';
  return `${point.name} was written ${valueText(words, point)}, and the device holds ${valueText(held, point)}. ${why}`;
}
