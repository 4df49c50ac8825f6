import { LAST_OFFSET, type Table } from '@plain-envoy/core/address';
import { groupOf, sentenceOf } from '@plain-envoy/core/failure';
import type { ReadEvent } from '@plain-envoy/core/feed';
import { describeException, isOfGateway, readFunction } from '@plain-envoy/core/frame';
import { ask } from '../client/index.js';
import type { ClientTransport } from '../links/index.js';

export interface SpanReading {
  name: string;
  unitId: number;
  timeoutMs: number;
  tries: number;
  table: Table;
  first: number;
  count: number;
  /** Offsets that it is known to refuse, which are left out. */
  known: readonly number[];
  /** Start again so long after the last round ended; null to read once. */
  everyMs: number | null;
  open(): ClientTransport;
}

interface Stretch {
  first: number;
  count: number;
}

/**
 * Reads any span of a table, in requests as large as the standard allows. A request that the device refuses is halved until
 * what it refuses is known to the register; when the span is read again, that is left out. Ending the generator ends it.
 */
export async function* readSpan({
  name,
  unitId,
  timeoutMs,
  tries,
  table,
  first,
  count,
  everyMs,
  known,
  open,
}: SpanReading): AsyncGenerator<ReadEvent> {
  const { code: functionCode, most } = readFunction(table);
  const transport = open();
  let requests = 0;
  const refused = new Set(known);
  try {
    for (let round = 1; ; round++) {
      const from = performance.now();
      const waiting = cut(first, Math.min(count, LAST_OFFSET + 1 - first), most, refused);
      for (let part = waiting.shift(); part; part = waiting.shift()) {
        requests += 1;
        const outcome = await ask(transport, { unitId, functionCode, offset: part.first, count: part.count, timeoutMs, tries });
        if (outcome.kind === 'values') {
          yield { kind: 'words', first: part.first, words: outcome.values };
        } else if (outcome.kind === 'failed' && outcome.failure.code === 'exception' && !isOfGateway(outcome.failure.exception)) {
          if (part.count > 1) {
            const half = Math.ceil(part.count / 2);
            waiting.unshift({ first: part.first, count: half }, { first: part.first + half, count: part.count - half });
          } else {
            refused.add(part.first);
            yield { kind: 'refused', offset: part.first, why: describeException(outcome.failure.exception) };
          }
        } else {
          return yield { kind: 'failed', sentence: `${name} did not let itself be read: ${reason(outcome, unitId)}` };
        }
      }
      yield { kind: 'round', round, requests, refused: refused.size - known.length, tookMs: Math.round(performance.now() - from) };
      if (everyMs === null) return;
      await new Promise((done) => setTimeout(done, everyMs));
    }
  } finally {
    transport.close();
  }
}

/** The span without what is refused, in pieces of at most `most`. */
function cut(first: number, count: number, most: number, refused: ReadonlySet<number>): Stretch[] {
  const pieces: Stretch[] = [];
  for (let offset = first; offset < first + count; offset++) {
    if (refused.has(offset)) continue;
    const last = pieces.at(-1);
    if (last && last.first + last.count === offset && last.count < most) last.count += 1;
    else pieces.push({ first: offset, count: 1 });
  }
  return pieces;
}

function reason(outcome: Awaited<ReturnType<typeof ask>>, unitId: number): string {
  if (outcome.kind !== 'failed') return 'it answered something else.';
  const { failure } = outcome;
  if (failure.code === 'no-answer') return `unit ${unitId} did not answer.`;
  if (failure.code === 'exception') return `the gateway says: ${describeException(failure.exception)}.`;
  return groupOf(failure) === 'damaged' ? `its answer was damaged: ${sentenceOf(failure)}` : sentenceOf(failure);
}
