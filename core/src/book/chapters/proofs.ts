import { type KeptProof, newestProofs, restsOnSame } from '../../proof/index.js';
import { section, table, words } from '../content.js';
import { defineChapter } from '../definition.js';
import { momentText } from '../moment.js';

interface Row {
  route: string;
  state: string;
  by: string | null;
  at: string;
  proof: KeptProof | null;
}

/** The newest proof of each route, and every value that was sent for it. */
export const proofs = defineChapter({
  chapter: 'proofs',
  make: ({ file: { document, evidence }, plan, isIn }) => {
    const newest = newestProofs(evidence);
    const rows = document.routes
      .filter(({ id }) => isIn(id))
      .map(({ id, name }): Row => {
        const kept = newest.get(id);
        if (!kept) return { route: name, state: 'never proved', by: null, at: '', proof: null };
        const isStale = !restsOnSame(plan, id, kept.proof.fingerprint);
        return {
          route: name,
          state: isStale ? `${kept.proof.state}, changed since` : kept.proof.state,
          by: kept.by,
          at: kept.at,
          proof: kept.proof,
        };
      });
    const proved = rows.filter(({ state }) => state === 'proved').length;
    return {
      blocks: [
        rows.length === 0
          ? words('Nothing is carried yet.')
          : words(`${proved} of ${rows.length} routes are proved as they are now.`, proved < rows.length ? 'problem' : 'plain'),
        table<Row>(
          '',
          [
            { head: 'Route', of: ({ route }) => route, weight: 1.5 },
            { head: 'State', of: ({ state }) => state, weight: 1.1 },
            { head: 'On', of: ({ proof }) => (proof ? (proof.on === 'real' ? 'the real plant' : 'stand-ins') : ''), weight: 0.9 },
            { head: 'Revision', of: ({ proof }) => proof?.revision ?? null, isNumber: true, weight: 0.7 },
            { head: 'At', of: ({ at }) => momentText(at), weight: 1.3 },
            { head: 'By', of: ({ by }) => by },
            { head: 'What was seen', of: ({ proof }) => proof?.sentence ?? '', weight: 4 },
          ],
          rows,
        ),
      ],
      sections: rows.flatMap(({ route, proof }) => {
        const values = table(
          '',
          [
            { head: 'Value', of: ({ shows }) => shows, weight: 2 },
            { head: 'Sent', of: ({ sent }) => sent, isNumber: true },
            { head: 'Expected', of: ({ expected }) => expected, isNumber: true },
            { head: 'Found', of: ({ found }) => found, isNumber: true },
            { head: 'After, ms', of: ({ ms }) => ms ?? 'did not arrive', isNumber: true },
          ],
          proof?.checks ?? [],
        );
        return values ? [section(route, [values])] : [];
      }),
    };
  },
});
