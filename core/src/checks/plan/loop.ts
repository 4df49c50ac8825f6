import { defineCheck, onRoute } from '../../findings/index.js';
import { byRegister, deviceName, type RouteCells, type ValidRoute } from '../../plan/index.js';

/** Routes whose values come back to where they started, register by register. */
export const loop = defineCheck({
  id: 'loop',
  severity: 'warning',
  scope: 'plan',
  doubts: true,
  meaning: 'The value of a route comes back to where it started.',
  find: ({ routes, look }) =>
    loopsOf(followersOf(routes)).map((round) => {
      const names = round.map(({ source }) => `${deviceName(source, look)} ${source.name}`);
      return {
        message: `${round[0]!.route.name}: its value comes back to where it started: ${[...names, names[0]].join(' → ')}.`,
        mend: 'Turn one of the routes round or delete it, or lead it to a register of its own.',
        about: round.slice(1).map(({ route }) => route.id),
        at: onRoute(round[0]!, 'destinationId'),
      };
    }),
});

type Followers = ReadonlyMap<ValidRoute, readonly ValidRoute[]>;

/** For each route, those that read what it writes. */
function followersOf(routes: readonly RouteCells[]): Followers {
  const read = byRegister(routes.map((own) => own.read));
  const next = new Map<ValidRoute, ValidRoute[]>();
  for (const { written } of routes) {
    for (const { key, bits, row } of written) {
      const following = read.get(key)?.flatMap((other) => (other.bits & bits ? other.row : [])) ?? [];
      if (following.length) next.set(row, [...(next.get(row) ?? []), ...following]);
    }
  }
  return next;
}

/** Walks depth first, without calling itself: a chain of routes may be as long as the project. */
function loopsOf(next: Followers): ValidRoute[][] {
  const done = new Set<ValidRoute>();
  const loops: ValidRoute[][] = [];
  for (const start of next.keys()) {
    if (done.has(start)) continue;
    const path: ValidRoute[] = [];
    const at = new Map<ValidRoute, number>();
    const open: { row: ValidRoute; rest: ValidRoute[] }[] = [];
    const enter = (row: ValidRoute) => {
      at.set(row, path.length);
      path.push(row);
      open.push({ row, rest: [...(next.get(row) ?? [])] });
    };
    enter(start);
    while (open.length) {
      const top = open.at(-1)!;
      const following = top.rest.pop();
      if (!following) {
        open.pop();
        path.pop();
        at.delete(top.row);
        done.add(top.row);
      } else if (at.has(following)) {
        loops.push(path.slice(at.get(following)));
      } else if (!done.has(following)) {
        enter(following);
      }
    }
  }
  return loops;
}
