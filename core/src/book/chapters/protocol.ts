import { acceptanceSteps, protocolOf, type ProtocolRow, signedOf, type Stage, stages, stateAt, tallyOf } from '../../acceptance/index.js';
import { facts, section, table, words } from '../content.js';
import { defineChapter } from '../definition.js';
import { momentText } from '../moment.js';

/** So many sentences of what must be seen stand in a row; a line that fails can take a hundred values with it. */
const SEEN = 5;

/** The steps of acceptance at each stage, with who has signed what, and room for those who sign on paper. */
export const protocol = defineChapter({
  chapter: 'protocol',
  make: ({ file: { document, evidence }, plan, findings, isIn }) => {
    const all = protocolOf(acceptanceSteps({ document, plan, findings }), signedOf(evidence));
    const rows = all.map((row, index): Numbered => ({ ...row, number: index + 1 })).filter(({ step }) => isIn(step.of));
    if (rows.length === 0) return { blocks: [words('Nothing is carried yet, so nothing is accepted.')], sections: [] };
    return {
      blocks: [],
      sections: stages.map(({ stage, label }) => section(label, [words(tallyOf(rows, stage)), tableOf(rows, stage), hands])),
    };
  },
});

const LINE = '_'.repeat(48);
const hands = facts([
  ['Place and date', LINE],
  ['For the client', LINE],
  ['For the company', LINE],
  ['Present', LINE],
]);

/** With its number in the whole protocol. */
type Numbered = ProtocolRow & { number: number };

function tableOf(rows: readonly Numbered[], stage: Stage) {
  return table<Numbered>(
    '',
    [
      { head: 'No.', of: ({ number }) => number, isNumber: true, weight: 0.4 },
      { head: 'Step', of: ({ step }) => step.title, weight: 1.6 },
      { head: 'What is done', of: ({ step }) => step.does[stage], weight: 2.6 },
      { head: 'What must be seen', of: ({ step }) => seenIn(step.sees[stage]), weight: 3 },
      { head: 'Result', stays: true, of: (row) => (row.signed[stage] ? stateAt(row, stage) : ''), weight: 0.9 },
      { head: 'Note', stays: true, of: ({ signed }) => signed[stage]?.note ?? '', weight: 1.4 },
      { head: 'Name', stays: true, of: ({ signed }) => signed[stage]?.name ?? '' },
      { head: 'At', stays: true, of: ({ signed }) => momentText(signed[stage]?.at ?? null), weight: 1.1 },
    ],
    rows,
  );
}

function seenIn(sees: readonly string[]): string {
  const more = sees.length - SEEN;
  return more > 0 ? `${sees.slice(0, SEEN).join(' ')} And ${more} more, under “What is lost when”.` : sees.join(' ');
}
