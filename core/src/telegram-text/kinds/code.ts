import { bad, good } from '../../outcome/index.js';
import type { FieldKind } from './definition.js';
import { told } from './integer.js';

/** A letter or a word that stands for something. */
export const code: FieldKind = {
  id: 'code',
  label: 'Code',
  pad: { side: 'right', with: ' ' },
  read(raw, { codes }) {
    if (!codes) return good(raw);
    const name = codes[raw] ?? codes[raw.trim()];
    return name === undefined ? bad(`is “${raw}”, which is none of its codes (${listed(Object.keys(codes))}).`) : good(name);
  },
  write(value, { codes }) {
    if (!codes) return typeof value === 'string' ? good(value) : bad(`takes a code, not ${told(value)}.`);
    const found = Object.entries(codes).find(([, name]) => name === value) ?? Object.entries(codes).find(([text]) => text === value);
    return found ? good(found[0]) : bad(`has no code for ${told(value)}; it has ${listed(Object.values(codes))}.`);
  },
};

function listed(texts: readonly string[]): string {
  const shown = texts.slice(0, 8).map((text) => `“${text}”`);
  return [...shown, ...(texts.length > shown.length ? ['…'] : [])].join(', ');
}
