/** The names of definitions, as a list whose type knows each of them. */
export function namesOf<const List extends readonly { name: string }[]>(list: List): { -readonly [Key in keyof List]: List[Key]['name'] } {
  return list.map(({ name }) => name) as { -readonly [Key in keyof List]: List[Key]['name'] };
}
