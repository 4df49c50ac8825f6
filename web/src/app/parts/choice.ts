import { linkedSignal, type Signal, type WritableSignal } from '@angular/core';

interface Row {
  id: string;
}

/**
 * What is chosen among rows, by id: `first` of them to begin with, and then what was chosen for as long as it is there. An edit of the
 * project, by whomever, makes the rows anew and must not move the choice to another.
 */
export function choiceAmong<T extends Row>(
  rows: Signal<readonly T[]>,
  first: (rows: readonly T[]) => T | undefined = ([one]) => one,
): WritableSignal<string> {
  return linkedSignal<readonly T[], string>({
    source: rows,
    computation: (all, previous) => (all.some(({ id }) => id === previous?.value) ? previous!.value : (first(all)?.id ?? '')),
  });
}
