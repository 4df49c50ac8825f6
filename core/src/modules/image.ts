/** What a module of a coupler has in one direction. */
export interface Channels {
  bits: number;
  words: number;
}

export interface Module {
  name: string;
  in: Channels;
  out: Channels;
}

/** How a coupler puts its modules into its process image. */
export interface ImageRule {
  /** All words in slot order and then all bits, packed; or slot by slot. */
  rule: 'words-first' | 'in-order';
  /** Where each module begins, slot by slot; what is narrower than a byte lets bits of neighbours share one. */
  align: 'bit' | 'byte' | 'word';
}

export type Direction = 'in' | 'out';

/** Where a channel lies: zero-based byte and 16-bit word of the image of its direction; the bit of its byte from the lowest, null for a word. */
export interface ChannelPlace {
  module: string;
  /** Of the module, from 1, for words and bits apart. */
  number: number;
  direction: Direction;
  kind: 'bit' | 'word';
  byte: number;
  bit: number | null;
  word: number;
}

/** What an image holds, and how many bytes it takes. */
export interface ImageSize extends Channels {
  bytes: number;
}

const WORD_BITS = 16;
const alignment = { bit: 1, byte: 8, word: WORD_BITS } as const;

/** The image of one direction. A word always begins with a byte. */
export function imageOf(modules: readonly Module[], direction: Direction, rule: ImageRule): { size: ImageSize; channels: ChannelPlace[] } {
  const channels: ChannelPlace[] = [];
  let at = 0;
  const put = ({ name: module }: Module, kind: 'bit' | 'word', count: number) => {
    for (let number = 1; number <= count; number++) {
      if (kind === 'word') at = upTo(at, 8);
      const byte = at >> 3;
      channels.push({ module, number, direction, kind, byte, bit: kind === 'bit' ? at & 7 : null, word: byte >> 1 });
      at += kind === 'bit' ? 1 : WORD_BITS;
    }
  };
  if (rule.rule === 'words-first') {
    for (const module of modules) put(module, 'word', module[direction].words);
    for (const module of modules) put(module, 'bit', module[direction].bits);
  } else {
    for (const module of modules) {
      const { words, bits } = module[direction];
      if (words + bits > 0) at = upTo(at, alignment[rule.align]);
      put(module, 'word', words);
      put(module, 'bit', bits);
    }
  }
  const sum = (kind: keyof Channels) => modules.reduce((total, module) => total + module[direction][kind], 0);
  return { size: { words: sum('words'), bits: sum('bits'), bytes: Math.ceil(at / 8) }, channels };
}

function upTo(at: number, step: number): number {
  return Math.ceil(at / step) * step;
}
