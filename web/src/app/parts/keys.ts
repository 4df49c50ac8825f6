/** One down, one up, or 0 for any other key: how lists, banks and ribbons are walked. */
export function arrowStep({ key }: KeyboardEvent): 1 | -1 | 0 {
  return key === 'ArrowDown' ? 1 : key === 'ArrowUp' ? -1 : 0;
}
