import type { Dialect } from './dialect.js';

/** A function that is there only where something names it. */
interface Helper {
  name: string;
  text: (dialect: Dialect) => string[];
}

/** Functions that values need on their way. Those that nothing names are left out. */
export const helpers: readonly Helper[] = [
  {
    name: 'Double',
    text: () => [
      '(* Two registers as one value, the higher first. *)',
      'FUNCTION §Double : DWORD',
      'VAR_INPUT high : WORD; low : WORD; END_VAR',
      '  §Double := SHL(WORD_TO_DWORD(high), 16) OR WORD_TO_DWORD(low);',
      'END_FUNCTION',
    ],
  },
  {
    name: 'Quad',
    text: () => [
      '(* Four registers as one value, the highest first. *)',
      'FUNCTION §Quad : LWORD',
      'VAR_INPUT a : WORD; b : WORD; c : WORD; d : WORD; END_VAR',
      '  §Quad := SHL(WORD_TO_LWORD(a), 48) OR SHL(WORD_TO_LWORD(b), 32) OR SHL(WORD_TO_LWORD(c), 16) OR WORD_TO_LWORD(d);',
      'END_FUNCTION',
    ],
  },
  {
    name: 'RoundAway',
    text: ({ real, nudge, most, whole }) => [
      '(* The nearest whole number, a half away from 0. What binary arithmetic takes off a half is put back first. *)',
      `FUNCTION §RoundAway : ${real}`,
      `VAR_INPUT value : ${real}; END_VAR`,
      `  IF ABS(value) < ${most} THEN`,
      `    §RoundAway := ${whole}_TO_${real}(${real}_TRUNC_${whole}(ABS(value) * (1.0 + ${nudge}) + 0.5));`,
      '    IF value < 0.0 THEN §RoundAway := -§RoundAway; END_IF;',
      '  ELSE §RoundAway := value;',
      '  END_IF;',
      'END_FUNCTION',
    ],
  },
  {
    name: 'RoundUp',
    text: ({ real }) => [
      '(* The nearest whole number, a half upwards. *)',
      `FUNCTION §RoundUp : ${real}`,
      `VAR_INPUT value : ${real}; END_VAR`,
      '  §RoundUp := §Floor(value + 0.5);',
      'END_FUNCTION',
    ],
  },
  {
    name: 'Ceiling',
    text: ({ real }) => [
      '(* The next whole number above. *)',
      `FUNCTION §Ceiling : ${real}`,
      `VAR_INPUT value : ${real}; END_VAR`,
      '  §Ceiling := -§Floor(-value);',
      'END_FUNCTION',
    ],
  },
  {
    name: 'Floor',
    text: ({ real, nudge, most, whole }) => [
      '(* The next whole number below. What binary arithmetic takes off a whole one is put back first. *)',
      `FUNCTION §Floor : ${real}`,
      `VAR_INPUT value : ${real}; END_VAR`,
      `VAR near : ${real}; END_VAR`,
      `  near := value + ABS(value) * ${nudge};`,
      `  §Floor := near;`,
      `  IF ABS(near) < ${most} THEN`,
      `    §Floor := ${whole}_TO_${real}(${real}_TRUNC_${whole}(near));`,
      '    IF §Floor > near THEN §Floor := §Floor - 1.0; END_IF;',
      '  END_IF;',
      'END_FUNCTION',
    ],
  },
  {
    name: 'Remainder',
    text: ({ real, most, whole }) => [
      '(* What is left of a division, with the sign of what is divided. *)',
      `FUNCTION §Remainder : ${real}`,
      `VAR_INPUT value : ${real}; divisor : ${real}; END_VAR`,
      `VAR times : ${real}; END_VAR`,
      '  IF divisor <> 0.0 THEN',
      '    times := value / divisor;',
      `    IF ABS(times) < ${most} THEN times := ${whole}_TO_${real}(${real}_TRUNC_${whole}(times)); END_IF;`,
      '    §Remainder := value - times * divisor;',
      '  END_IF;',
      'END_FUNCTION',
    ],
  },
  {
    name: 'IsDecimal',
    text: () => [
      '(* Whether each four bits hold a digit. *)',
      'FUNCTION §IsDecimal : BOOL',
      'VAR_INPUT digits : DWORD; END_VAR',
      'VAR i : INT; END_VAR',
      '  §IsDecimal := TRUE;',
      '  FOR i := 0 TO 7 DO',
      '    IF (SHR(digits, 4 * i) AND 16#F) > DWORD#16#9 THEN §IsDecimal := FALSE; END_IF;',
      '  END_FOR;',
      'END_FUNCTION',
    ],
  },
  {
    name: 'RealOfBits',
    text: () => [
      '(* A number of 32 bits (IEEE 754) by arithmetic: sign, power of two, and the digits after the point. *)',
      'FUNCTION §RealOfBits : REAL',
      'VAR_INPUT bits : DWORD; END_VAR',
      'VAR power : DINT; END_VAR',
      '  power := DWORD_TO_DINT(SHR(bits, 23) AND 16#FF);',
      '  §RealOfBits := DINT_TO_REAL(DWORD_TO_DINT(bits AND 16#7FFFFF));',
      '  IF power > 0 THEN §RealOfBits := §RealOfBits + 8388608.0; ELSE power := 1; END_IF;',
      '  power := power - 150;',
      '  WHILE power > 0 DO §RealOfBits := §RealOfBits * 2.0; power := power - 1; END_WHILE;',
      '  WHILE power < 0 DO §RealOfBits := §RealOfBits * 0.5; power := power + 1; END_WHILE;',
      '  IF (bits AND 16#80000000) <> 0 THEN §RealOfBits := -§RealOfBits; END_IF;',
      'END_FUNCTION',
    ],
  },
  {
    name: 'BitsOfReal',
    text: () => [
      '(* The 32 bits of a number (IEEE 754) by arithmetic. *)',
      'FUNCTION §BitsOfReal : DWORD',
      'VAR_INPUT value : REAL; END_VAR',
      'VAR size : REAL; power : DINT; END_VAR',
      '  size := ABS(value);',
      '  IF size > 3.4028235E38 THEN §BitsOfReal := 16#7F800000;',
      '  ELSIF size > 0.0 THEN',
      '    power := 150;',
      '    WHILE (size >= 16777216.0) AND (power < 255) DO size := size * 0.5; power := power + 1; END_WHILE;',
      '    WHILE (size < 8388608.0) AND (power > 1) DO size := size * 2.0; power := power - 1; END_WHILE;',
      '    IF size < 8388608.0 THEN power := 0; ELSE size := size - 8388608.0; END_IF;',
      '    §BitsOfReal := SHL(DINT_TO_DWORD(power), 23) OR DINT_TO_DWORD(REAL_TRUNC_DINT(size));',
      '  END_IF;',
      '  IF value < 0.0 THEN §BitsOfReal := §BitsOfReal OR 16#80000000; END_IF;',
      'END_FUNCTION',
    ],
  },
  {
    name: 'TextOf',
    text: () => [
      '(* Two characters of each register, up to the first that is 0. *)',
      'FUNCTION_BLOCK §TextOf',
      'VAR_INPUT first : INT; count : INT; turned : BOOL; END_VAR',
      'VAR_IN_OUT area : §Area; END_VAR',
      'VAR_OUTPUT text : STRING[250]; good : BOOL; END_VAR',
      'VAR i : INT; code : INT; pair : WORD; ended : BOOL; END_VAR',
      `VAR CONSTANT signs : STRING[95] := '${SIGNS()}'; END_VAR`,
      "  text := ''; good := TRUE; ended := FALSE;",
      '  FOR i := 0 TO 2 * count - 1 DO',
      '    pair := area[first + i / 2];',
      '    IF turned THEN pair := ROL(pair, 8); END_IF;',
      '    IF i MOD 2 = 0 THEN pair := SHR(pair, 8); END_IF;',
      '    code := WORD_TO_INT(pair AND 16#FF);',
      '    ended := ended OR (code = 0);',
      '    IF NOT ended THEN',
      '      IF (code >= 32) AND (code <= 126) THEN text := CONCAT(text, MID(signs, 1, code - 31)); ELSE good := FALSE; END_IF;',
      '    END_IF;',
      '  END_FOR;',
      'END_FUNCTION_BLOCK',
    ],
  },
  {
    name: 'PutText',
    text: () => [
      '(* A text into registers, two characters each, filled up with 0. *)',
      'FUNCTION_BLOCK §PutText',
      'VAR_INPUT text : STRING[250]; first : INT; count : INT; turned : BOOL; END_VAR',
      'VAR_IN_OUT area : §Area; masks : §Area; END_VAR',
      'VAR i : INT; code : INT; pair : WORD; END_VAR',
      `VAR CONSTANT signs : STRING[95] := '${SIGNS()}'; END_VAR`,
      '  FOR i := 0 TO 2 * count - 1 DO',
      '    code := 0;',
      '    IF i < LEN(text) THEN code := FIND(signs, MID(text, 1, i + 1)) + 31; END_IF;',
      '    IF i MOD 2 = 0 THEN pair := SHL(INT_TO_WORD(code), 8);',
      '    ELSE',
      '      pair := pair OR INT_TO_WORD(code);',
      '      IF turned THEN pair := ROL(pair, 8); END_IF;',
      '      area[first + i / 2] := pair;',
      '      masks[first + i / 2] := 16#FFFF;',
      '    END_IF;',
      '  END_FOR;',
      'END_FUNCTION_BLOCK',
    ],
  },
];

/** All characters of ASCII that can be seen, from the blank on, as they stand in a literal. */
function SIGNS(): string {
  return Array.from({ length: 95 }, (_, index) => String.fromCharCode(32 + index))
    .map((sign) => (sign === '$' || sign === "'" ? `$${sign}` : sign))
    .join('');
}
