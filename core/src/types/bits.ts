import type { BitsType } from './definition.js';

const strings: Record<number, string> = { 1: 'WORD', 2: 'DWORD', 4: 'LWORD' };

export const bits: BitsType<'bits'> = {
  kind: 'bits',
  name: 'bits',
  width: null,
  manuals: /^(bits|bitfield|bit ?field|bitmap|bit ?map|bit ?mask|flags|bitstring|bit ?string|status ?word)$/,
  sized: { pattern: /^bits\s*(?:\[\s*)?(\d+)\s*\]?$/, perRegister: 16 },
  iec: {
    declare: (width) => strings[width] ?? `ARRAY[0..${width - 1}] OF WORD`,
    read: (name) => {
      const known = Object.entries(strings).find(([, string]) => string === name);
      if (known) return { width: known[0] === '1' ? null : Number(known[0]) };
      const array = /^ARRAY\[(-?\d+)\.\.(-?\d+)\]OFWORD$/.exec(name);
      return array && { width: Number(array[2]) - Number(array[1]) + 1 };
    },
  },
  thing: { xsd: null, json: 'integer' },
  // Each bit alone shows one that lands elsewhere; all together show one that is held.
  tellTales: ({ width, namedBits }) => {
    const all = namedBits.length ? namedBits : Array.from({ length: width * 16 }, (_, bit) => bit);
    return [
      { raw: [], shows: 'no bit' },
      ...all.map((bit) => ({ raw: [bit], shows: `bit ${bit} alone` })),
      { raw: [...all].sort((a, b) => a - b), shows: 'all bits' },
    ];
  },
};
