import type { Variable } from '../format/index.js';
import type { ListedVariable } from './variable-list.js';

/**
 * A variable of a list as IEC 61131-3 declares it. The name of its point is the first line of its comment where it is another, as it is in
 * what is read back.
 */
export function declared({ name, point, at, type, initial, retain, remark }: ListedVariable): Variable {
  return { name, address: at, type, initial, retain, comment: [name === point ? '' : point, remark].filter(Boolean).join('\n') };
}
