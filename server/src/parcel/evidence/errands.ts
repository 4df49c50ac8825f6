import type { ErrandRun } from '@plain-envoy/core/errand';
import { defineTable, ofKind } from './definition.js';

/** Every run of an errand, step by step. */
export const errands = defineTable({
  stem: 'errands',
  head: ['Errand', 'Begun at', 'Revision', 'By', 'State', 'What came of it', 'Step', 'What was done', 'ms'],
  rows: (file) =>
    ofKind(file, 'errand').flatMap(({ at, by, revision, body }) => {
      const { name, state, sentence, steps } = body as unknown as ErrandRun;
      const own = [name, at, revision, by, state, sentence];
      return steps.length ? steps.map((one) => [...own, one.step, one.sentence, one.ms]) : [[...own, null, null, null]];
    }),
});
