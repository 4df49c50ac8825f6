import type { Telegram } from '../../telegram/index.js';
import type { Ending } from '../stream.js';
import { byLengthField } from './length-field.js';
import { byLength } from './length.js';
import { byMark } from './mark.js';
import { bySilence } from './silence.js';

/** The way in which a telegram ends. A new one is a file of its own, its shape in `endingShapes`, and a line here. */
export function endingOf({ end, length, lengthField }: Telegram): Ending {
  if (end) return byMark;
  if (length !== undefined) return byLength(length);
  return lengthField ? byLengthField(lengthField) : bySilence;
}
