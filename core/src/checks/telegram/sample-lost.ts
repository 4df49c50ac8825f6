import { fieldOfWords, readSamples, wordsOfField } from '../../text-line/index.js';
import { defineCheck } from '../../findings/index.js';

export const sampleLost = defineCheck({
  id: 'sample-lost',
  severity: 'warning',
  scope: 'telegram',
  meaning: 'A value that really came does not fit the point of its field, or loses figures there.',
  find: ({ telegram, points }) => {
    const samples = readSamples(telegram).filter(({ ok }) => ok);
    return points.flatMap((point) => {
      const { place } = point;
      if (place.kind !== 'field') return [];
      for (const { fields } of samples) {
        const value = fields.find(({ name }) => name === place.field)?.value ?? null;
        if (value === null) continue;
        const words = wordsOfField(value, point);
        const back = words.ok ? fieldOfWords(words.value, point) : null;
        const isSame = back?.ok && (point.type === 'bit' || String(back.value) === String(value) || isClose(back.value, value));
        if (isSame) continue;
        return {
          message: words.ok
            ? `${point.name}: ${value} came in ${place.field} of ${telegram.name}, and the point keeps ${back?.ok ? back.value : 'nothing'} of it.`
            : `${point.name}: ${value} came in ${place.field} of ${telegram.name}, which does not fit: ${words.problem.message}`,
          mend: words.ok ? 'Give it a finer scale, or a wider type or text.' : 'Give it a type that holds it.',
          at: { entity: 'point' as const, id: point.id, field: words.ok ? 'scale' : 'type' },
        };
      }
      return [];
    });
  },
});

/** Within what floating point makes of decimal figures. */
function isClose(a: unknown, b: unknown): boolean {
  return typeof a === 'number' && typeof b === 'number' && Math.abs(a - b) <= 1e-6 * Math.max(1, Math.abs(b));
}
