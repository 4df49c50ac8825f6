import { defineCheck } from '../../findings/index.js';
import type { TelegramField } from '../../telegram/index.js';

export const fieldsOverlap = defineCheck({
  id: 'fields-overlap',
  severity: 'warning',
  scope: 'telegram',
  meaning: 'Two fields of a telegram share characters, or one leaves its fixed length.',
  find: ({ telegram, device }) => {
    const { fields, length } = telegram.telegram;
    const at = { entity: 'telegram' as const, id: telegram.id, field: 'telegram' };
    const spans = fields.flatMap((field) => spanOf(field, length));
    const outside = spans.filter(({ to }) => length !== undefined && to > length);
    return [
      ...outside.map(({ name, to }) => ({
        message: `${device}: field ${name} of ${telegram.name} ends at character ${to - 1}, and the telegram at ${length! - 1}.`,
        mend: 'Move it, or make the telegram as long as it is.',
        at,
      })),
      ...spans.flatMap((a, index) =>
        spans
          .slice(index + 1)
          .filter((b) => a.from < b.to && b.from < a.to)
          .map((b) => ({
            message: `${device}: fields ${a.name} and ${b.name} of ${telegram.name} share the characters ${Math.max(a.from, b.from)} to ${Math.min(a.to, b.to) - 1}.`,
            mend: 'Move one of them.',
            at,
          })),
      ),
    ];
  },
});

function spanOf({ name, at }: TelegramField, length: number | undefined): { name: string; from: number; to: number }[] {
  if (!('length' in at)) return [];
  if (at.from >= 0) return [{ name, from: at.from, to: at.from + at.length }];
  return length === undefined ? [] : [{ name, from: length + at.from, to: length + at.from + at.length }];
}
