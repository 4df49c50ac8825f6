import { newestLosses } from '@plain-envoy/core/handover';
import { defineTable } from './definition.js';

/** What became of each value when something was made to fail on the bench. */
export const losses = defineTable({
  stem: 'losses',
  head: ['When this fails', 'Route', 'State', 'After, ms', 'What was seen'],
  rows: ({ document, evidence }) => {
    const names = new Map([...document.devices, ...document.lines, ...document.routes].map(({ id, name }) => [id, name]));
    const nameOf = (id: string) => names.get(id) ?? 'gone';
    return [...newestLosses(evidence).values()].flatMap(({ failingId, values }) =>
      values.map(({ routeId, state, ms, sentence }) => [nameOf(failingId), nameOf(routeId), state, ms, sentence]),
    );
  },
});
