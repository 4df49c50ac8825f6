/** A value as a literal of Structured Text (IEC 61131-3, section 6.3), of a type by its name. */
export function literal(value: unknown, type: string): string {
  if (type === 'BOOL') return value ? 'TRUE' : 'FALSE';
  if (typeof value === 'string') return `'${[...value].map(signOf).join('')}'`;
  if (/^(BYTE|WORD|DWORD|LWORD)$/.test(type))
    return `16#${BigInt(value as number)
      .toString(16)
      .toUpperCase()}`;
  if (!/REAL$/.test(type)) return String(value);
  const text = String(value);
  return /^-?\d+$/.test(text) ? `${text}.0` : text.replace('e+', 'E').replace('e', 'E');
}

/** A dollar sign begins what cannot stand in a text as it is. */
function signOf(sign: string): string {
  const code = sign.codePointAt(0)!;
  if (sign === '$' || sign === "'") return `$${sign}`;
  return code < 0x20 || code > 0x7e ? `$${code.toString(16).toUpperCase().padStart(2, '0')}` : sign;
}
