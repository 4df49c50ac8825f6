import type { NameRules } from './rules.js';

/** A name, what became of it, and why. */
export interface Renamed {
  from: string;
  to: string;
  changed: string[];
}

const WRITTEN_OUT: Readonly<Record<string, string>> = {
  ...{
    ä: 'ae',
    ö: 'oe',
    ü: 'ue',
    Ä: 'Ae',
    Ö: 'Oe',
    Ü: 'Ue',
    ß: 'ss',
    æ: 'ae',
    Æ: 'Ae',
    ø: 'oe',
    Ø: 'Oe',
    å: 'aa',
    Å: 'Aa',
    œ: 'oe',
    Œ: 'Oe',
  },
  ...{ µ: 'u', μ: 'u', '²': '2', '³': '3', '€': 'EUR' },
};
/** What a name is made of where nothing is left of it. */
const NOTHING = 'Unnamed';

/**
 * Names that are legal where they go, each only once whatever its case, in the order given; the same names and rules always give
 * the same. Letters with marks are written out, what is not allowed becomes `_` (or is left out), the case is changed, what is too
 * long is cut, and a number tells apart what would be the same.
 */
export function nameAll(names: readonly string[], rules: NameRules): Renamed[] {
  const taken = new Set<string>();
  const reserved = new Set((rules.reserved ?? []).map((word) => word.toLowerCase()));
  return names.map((from) => {
    const { to: wanted, changed } = legal(from, rules);
    let to = wanted;
    const isFree = (name: string) => !taken.has(name.toLowerCase()) && !reserved.has(name.toLowerCase());
    const separator = new RegExp(`^[${rules.allow}]$`, 'u').test('_') && rules.case !== 'camel' ? '_' : '';
    for (let number = 2; !isFree(to); number++) {
      const tail = `${separator}${number}`;
      to = `${wanted.slice(0, rules.maxLength - tail.length)}${tail}`;
    }
    if (to !== wanted)
      changed.push(reserved.has(wanted.toLowerCase()) ? `“${wanted}” is a word that is reserved` : `“${wanted}” is there already`);
    taken.add(to.toLowerCase());
    return { from, to, changed };
  });
}

function legal(from: string, rules: NameRules): { to: string; changed: string[] } {
  const changed: string[] = [];
  const allowed = new RegExp(`^[${rules.allow}]$`, 'u');
  const step = (to: string, before: string, why: string) => {
    if (to !== before) changed.push(why);
    return to;
  };
  const written = [...from].map((sign) => (allowed.test(sign) ? sign : (WRITTEN_OUT[sign] ?? withoutMarks(sign)))).join('');
  let name = step(written, from, 'letters written out');
  const gap = allowed.test('_') ? '_' : '';
  const words = cased(name, rules, allowed);
  name = step(words ?? name, name, `in ${rules.case} case`);
  // A mark that no name has stands for what is not allowed, until it is known what comes there.
  const marked = [...name].map((sign) => (allowed.test(sign) ? sign : '\n')).join('');
  const joined = marked.includes('\n') ? joinedBy(gap, marked.split('\n')) : name;
  name = step(joined, name, gap ? 'what is not allowed written as _' : 'what is not allowed left out');
  if (name === '')
    name = step(
      rules.case === 'upper' ? NOTHING.toUpperCase() : rules.case === 'as-is' ? NOTHING : NOTHING.toLowerCase(),
      name,
      'nothing was left of it',
    );
  if (rules.firstMustBeLetter && !/^\p{L}/u.test(name))
    name = step(`${rules.case === 'upper' ? 'N' : 'n'}${name}`, name, 'begins with a letter');
  return { to: step(name.slice(0, rules.maxLength), name, `cut to ${rules.maxLength} characters`), changed };
}

/** The parts with a gap between them, but never two. */
function joinedBy(gap: string, parts: readonly string[]): string {
  return parts
    .filter((part) => part !== '')
    .reduce((sum, part) => (sum === '' || sum.endsWith('_') || part.startsWith('_') ? sum + part : sum + gap + part), '');
}

/** The name in the case that is wanted; null where it stays as it is. */
function cased(name: string, rules: NameRules, allowed: RegExp): string | null {
  switch (rules.case) {
    case 'as-is':
      return null;
    case 'upper':
      return name.toUpperCase();
    case 'lower':
      return name.toLowerCase();
    default: {
      const parts = name
        .replaceAll(/(\p{Ll}|\d)(\p{Lu})/gu, '$1 $2')
        .split(/[^\p{L}\d]+/u)
        .map((part) =>
          [...part]
            .filter((sign) => allowed.test(sign) || allowed.test(sign.toLowerCase()))
            .join('')
            .toLowerCase(),
        )
        .filter((part) => part !== '');
      if (rules.case === 'snake') return parts.join('_');
      return parts.map((part, index) => (index === 0 ? part : part[0]!.toUpperCase() + part.slice(1))).join('');
    }
  }
}

function withoutMarks(sign: string): string {
  return sign.normalize('NFD').replaceAll(/\p{M}/gu, '');
}
