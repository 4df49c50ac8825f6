import { hasArrived, textAt } from '@plain-envoy/core/proof';
import { isOnePlace } from './places.js';
import { type Case, isGood, type Run } from './route-case.js';

const STAYS_MS = 2500;
const STAYS_LOOKS = 10;

/** Two writers of one place each have their moment; looked at for a while, each finds the other's value there. */
export async function stillThere(cases: readonly Case[], run: Run): Promise<void> {
  const good = cases.filter((row) => isGood(row) && row.last);
  for (let look = 0; look < STAYS_LOOKS && !run.stopped && good.length; look++) {
    const found = new Map((await run.bench.look(good.map(({ route }) => route.destination))).map((looked) => [looked.id, looked]));
    for (const row of good) {
      const looked = found.get(row.route.destination.id);
      const { destination } = row.papers!;
      if (!looked || row.failures || hasArrived(looked.words, row.last!, destination)) continue;
      const seen = textAt(looked.words, destination);
      row.failures += 1;
      row.why = `Its value arrived, and was replaced: ${seen} stood there later. Something else writes there too.`;
      for (const other of good) {
        if (other.failures || !isOnePlace(other.route.destination, row.route.destination)) continue;
        other.failures += 1;
        other.why = `It replaces what ${row.route.name} writes to the same place.`;
      }
    }
    await new Promise((done) => setTimeout(done, STAYS_MS / STAYS_LOOKS));
  }
}
