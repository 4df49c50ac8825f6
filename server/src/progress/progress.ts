/**
 * What work tells of itself while it goes on, of several things at once the last; in the end what it comes to. Rejects as the work does,
 * once all that it told before is taken.
 */
export async function* progressOf<Told, Done>(work: (tell: (told: Told) => void) => Promise<Done>): AsyncGenerator<Told, Done> {
  const told: Told[] = [];
  let [wake, hasEnded] = [() => undefined as void, false];
  const done = work((news) => {
    told.push(news);
    wake();
  }).finally(() => {
    hasEnded = true;
    wake();
  });
  // It is heard below; until then nobody else is to.
  done.catch(() => undefined);
  while (!hasEnded || told.length) {
    const [last] = told.splice(0).slice(-1);
    if (last === undefined) await new Promise<void>((resume) => (wake = resume));
    else yield last;
  }
  return done;
}
