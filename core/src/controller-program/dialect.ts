/** What a controller's language has: the widest types to reckon with, and whether the bits of a REAL can be had. */
export interface Dialect {
  /** Floating point, whole numbers and bit strings to reckon with. */
  real: 'LREAL' | 'REAL';
  whole: 'LINT' | 'DINT';
  bits: 'LWORD' | 'DWORD';
  /** Bits of the widest whole number. */
  width: 64 | 32;
  /** What a rounded number is moved by, as a part of it, so that binary arithmetic does not turn a half into less. */
  nudge: string;
  /** The greatest number that goes into the whole type. */
  most: string;
  /** The greatest number that the real type holds. */
  greatest: string;
}

/** Edition 3 of IEC 61131-3 in full. */
export const full: Dialect = {
  real: 'LREAL',
  whole: 'LINT',
  bits: 'LWORD',
  width: 64,
  nudge: '4.0E-15',
  most: '9.2E18',
  greatest: '1.7976931348623157E308',
};

/** Without types of 64 bits, and without a way to take the bits of a REAL: they are made by arithmetic. */
export const portable: Dialect = {
  real: 'REAL',
  whole: 'DINT',
  bits: 'DWORD',
  width: 32,
  nudge: '4.0E-7',
  most: '2.14E9',
  greatest: '3.4028235E38',
};
