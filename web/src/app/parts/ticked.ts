/** What is ticked, once one of them is or is not any more. */
export function ticked(all: ReadonlySet<string>, id: string, isOn: boolean): ReadonlySet<string> {
  const next = new Set(all);
  if (isOn) next.add(id);
  else next.delete(id);
  return next;
}
