import type { TextType } from './definition.js';
import { textFromWords, wordsFromText } from './text.js';

export const string: TextType<'string'> = {
  kind: 'text',
  name: 'string',
  width: null,
  manuals: /^(string|char|ascii|text|str|utf-?8)$/,
  sized: { pattern: /^(?:string|char|text|ascii|str)\s*(?:\[\s*)?(\d+)\s*\]?$/, perRegister: 2 },
  iec: {
    declare: (width) => `STRING[${width * 2}]`,
    read: (name) => {
      const characters = /^W?STRING[[(](\d+)[\])]$/.exec(name)?.[1];
      return characters === undefined ? null : { width: Math.ceil(Number(characters) / 2) };
    },
  },
  thing: { xsd: 'xsd:string', json: 'string' },
  readText: textFromWords,
  writeText: wordsFromText,
  tellTales: ({ own, width }) => [
    { raw: `No ${own}`.slice(0, width * 2), shows: 'a text of its own' },
    {
      raw: 'ABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789'.repeat(7).slice(0, width * 2),
      shows: 'the full length, each character another',
    },
  ],
};
