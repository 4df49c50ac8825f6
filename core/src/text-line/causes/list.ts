import { anotherLanguage } from './another-language.js';
import type { TextCause } from './definition.js';
import { eighthBit } from './eighth-bit.js';
import { endNeverComes } from './end-never-comes.js';
import { fieldsExchanged } from './fields-exchanged.js';
import { neverMatches } from './never-matches.js';
import { nothingCame } from './nothing-came.js';
import { settingsDiffer } from './settings-differ.js';
import { someDamaged } from './some-damaged.js';

/** Everything that may be wrong with what comes, what explains most first. A new cause is a file of its own and its name here. */
export const textCauses: readonly TextCause[] = [
  ...[nothingCame, settingsDiffer, eighthBit, anotherLanguage, endNeverComes, fieldsExchanged],
  ...[neverMatches, someDamaged],
];
