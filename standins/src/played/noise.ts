/** Noise that is the same at every start, between −1 and 1 (a linear congruential generator). */
export function noise(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0;
    return state / 0x8000_0000 - 1;
  };
}

/** A link on which answers are lost by chance: whether the next comes through, where so many of all are lost (0 to 1). */
export function lossyLink(seed: number): (lost: number) => boolean {
  const chance = noise(seed);
  return (lost) => (chance() + 1) / 2 >= lost;
}
