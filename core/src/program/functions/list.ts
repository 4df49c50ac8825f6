import { conversions } from './conversions.js';
import type { StandardFunction } from './definition.js';
import { numberFunctions } from './numbers.js';
import { ourFunctions } from './ours.js';
import { textFunctions } from './texts.js';

/** Every function of the language, and those that only stand-ins have. */
export const standardFunctions: readonly StandardFunction[] = [...numberFunctions, ...textFunctions, ...conversions, ...ourFunctions];

const byName = new Map(standardFunctions.map((one) => [one.name, one]));

export function standardFunction(name: string): StandardFunction | undefined {
  return byName.get(name.toUpperCase());
}
