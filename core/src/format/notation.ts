import { type Area, type Notation, notationNames, readAddress } from '../address/index.js';
import { firstOf } from '../fields/index.js';

/** How a column of addresses is written, and why that is thought. */
export interface NotationGuess {
  notation: Notation;
  why: string;
}

const LOOKED_AT = 2000;

const headerWords: [RegExp, Notation][] = [
  [/\b(offset|pdu|zero.?based|0.?based)\b/i, 'pdu'],
  [/\b(one.?based|1.?based|number|no|nr)\b/i, 'number'],
  [/\bhex\b/i, 'hex'],
];

/**
 * Finds the one notation in which a whole column makes sense. References and areas tell themselves; of plain numbers a 0
 * gives zero-based ones away, and else the device's own notation decides, which is said.
 */
export function guessNotation(cells: readonly string[], header: string, own: Notation, areas: readonly Area[]): NotationGuess {
  const texts = cells.slice(0, LOOKED_AT).map(firstOf).filter(Boolean);
  const share = (notation: Notation) => {
    const read = texts.filter((text) => readAddress(text, { notation, areas }).ok).length;
    return texts.length ? read / texts.length : 0;
  };
  const spelt = texts.filter((text) => /^(?:[134][xX]|[0134]:)\d/.test(text)).length > texts.length / 2;
  const some = (notation: Notation) => share(notation) >= 0.8;
  const told = headerWords.find(([pattern, notation]) => pattern.test(header) && some(notation));
  if (told) return { notation: told[1], why: `The column is called “${header.trim()}”.` };
  if (areas.length && some('area')) return { notation: 'area', why: 'The addresses are names of the controller’s own areas.' };
  // A row that is wrong must not make all others be read in another way.
  const digits = (length: number) => texts.every((text) => !/^\d+$/.test(text) || (text.length === length && /^[0134]/.test(text)));
  if (share('reference5') >= 0.5 && (spelt || digits(5))) {
    return { notation: 'reference5', why: 'They have five digits, and the first tells a table.' };
  }
  if (share('reference6') >= 0.5 && (spelt || digits(6))) {
    return { notation: 'reference6', why: 'They have six digits, and the first tells a table.' };
  }
  const hex = texts.some((text) => /^0x|h$|[a-f]/i.test(text));
  if (hex && some('hex')) return { notation: 'hex', why: 'They are hex numbers, counted from 0.' };
  if (texts.some((text) => /^0+$/.test(text))) return { notation: 'pdu', why: 'One of them is 0, so they count from 0.' };
  if (own === 'pdu' || own === 'number') {
    return {
      notation: own,
      why: `Plain numbers could count from 0 or from 1; this device’s papers write a ${notationNames[own]}.`,
    };
  }
  return { notation: 'number', why: 'Plain numbers without a 0 among them: most manuals then count from 1.' };
}
