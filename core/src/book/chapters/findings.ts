import { causesFirst, type Finding } from '../../findings/index.js';
import type { ProjectDocument } from '../../model/index.js';
import { section, table, words } from '../content.js';
import { defineChapter } from '../definition.js';

const kinds: readonly { severity: Finding['severity']; title: string }[] = [
  { severity: 'stop', title: 'What keeps something from running' },
  { severity: 'warning', title: 'Warnings' },
  { severity: 'advice', title: 'Advice' },
];

/** What is still open: why it is wrong, and what mends it. */
export const findings = defineChapter({
  chapter: 'findings',
  make: ({ file: { document }, findings: open, isIn }) => {
    const all = open.filter(({ at }) => isIn(at.id));
    const nameOf = namesIn(document);
    return {
      blocks: [words(all.length ? `${all.length} findings are open.` : 'Nothing is open.', all.length ? 'problem' : 'plain')],
      sections: kinds.flatMap(({ severity, title }) => {
        const own = all.filter((finding) => finding.severity === severity);
        if (own.length === 0) return [];
        const rows = table<Finding>(
          '',
          [
            { head: 'Where', of: ({ at }) => nameOf(at), weight: 1.3 },
            { head: 'What is wrong, and why', of: ({ message }) => message, weight: 3 },
            { head: 'How it is mended', of: ({ mend }) => mend, weight: 2.5 },
          ],
          [...own].sort(causesFirst),
        );
        return [section(title, [rows])];
      }),
    };
  },
});

function namesIn({ lines, devices, ports, telegrams, frames, points, rounds, routes, errands }: ProjectDocument) {
  const names = new Map(
    [lines, devices, telegrams, frames, points, rounds, routes, errands].flatMap((rows) => rows.map(({ id, name }) => [id, name] as const)),
  );
  const owners = new Map([...ports, ...points, ...telegrams, ...frames].map(({ id, deviceId }) => [id, deviceId]));
  return ({ id }: Finding['at']): string => [names.get(owners.get(id) ?? ''), names.get(id)].filter(Boolean).join(' ');
}
