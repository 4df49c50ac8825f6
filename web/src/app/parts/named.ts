import type { Round } from '@plain-envoy/core/model';
import type { Option } from './choose';

/** Entities as what they are called. */
export function named(rows: readonly { id: string; name: string }[]): Option<string>[] {
  return rows.map(({ id, name }) => ({ value: id, text: name }));
}

export function roundOptions(rounds: readonly Round[]): Option<string>[] {
  return rounds.map(({ id, name, periodMs }) => ({ value: id, text: name, more: `every ${periodMs} ms` }));
}
