import { bad, good, type Outcome } from '../outcome/index.js';
import { type IecNames, iecBitString, type WholeType } from './definition.js';
import { wholeTellTales } from './tell-tales.js';

type Coded<Name extends string> = Pick<WholeType<Name>, 'name' | 'width' | 'high' | 'manuals' | 'read' | 'write'>;

/** A whole number without sign that is held digit by digit. IEC 61131-3 and XML Schema have no such type. */
export function decimalDigits<const Name extends string>(coded: Coded<Name>): WholeType<Name> {
  const iec: IecNames = iecBitString(coded.width === 1 ? 'WORD' : 'DWORD');
  return {
    ...coded,
    kind: 'whole',
    low: 0,
    guessCost: 2.5,
    iec,
    thing: { xsd: null, json: 'integer' },
    tellTales: (of) => wholeTellTales(0, coded.high, of),
  };
}

/** Binary-coded decimal: four digits a register, each in four bits. A digit above 9 is an error that names it. */
export function fromBcd(words: readonly number[]): Outcome<number> {
  const digits = words.map((word) => word.toString(16).padStart(4, '0')).join('');
  const wrong = [...digits].findIndex((digit) => digit > '9');
  if (wrong >= 0) {
    return bad(`Digit ${wrong + 1} from the left is ${digits[wrong]?.toUpperCase()}, which is no decimal digit.`, 'words');
  }
  return good(Number(digits));
}

export function toBcd(value: number, words: number): number[] {
  const digits = String(value).padStart(words * 4, '0');
  return Array.from({ length: words }, (_, word) => parseInt(digits.slice(word * 4, word * 4 + 4), 16));
}
