import { standardBlocks } from './blocks/index.js';
import { standardFunctions } from './functions/index.js';
import { elementaryNamed, elementaryNames, languageWords, type StringType, type Type } from './language/index.js';

/** Every name that the language has for itself: words, types, functions and blocks. */
export const reservedWords: readonly string[] = [
  ...languageWords,
  ...elementaryNames,
  ...standardFunctions.map(({ name }) => name),
  ...standardBlocks.map(({ name }) => name),
];

/** The elementary type of that name; null where there is none. */
export function elementaryType(name: string): Type | null {
  return elementaryNamed(name) ?? null;
}

export function stringType(length: number): StringType {
  return { kind: 'string', length };
}
