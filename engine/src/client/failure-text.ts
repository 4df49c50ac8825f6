import { sentenceOf } from '@plain-envoy/core/failure';
import type { RequestResult } from './client.js';

/** Why a request brought nothing, in a sentence; one that brought something else than was asked for is told so. */
export function failureText(outcome: RequestResult): string {
  if (outcome.kind !== 'failed') return 'It answered something else.';
  return outcome.failure.code === 'no-answer' ? 'It does not answer.' : sentenceOf(outcome.failure);
}
