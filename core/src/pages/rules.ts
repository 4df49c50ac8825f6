import type { Rule } from './page.js';

/** Rules of one table: those that touch each other, by way of others too. */
export interface Ruling {
  across: Rule[];
  down: Rule[];
}

/** Rules this near to each other, in points, are one, as where each cell is drawn with a box of its own. */
const SAME = 1.6;
/** Gaps along a rule that are no gaps, as between dashes. */
const GAP = 4;
/** How near a rule has to come to another to touch it. */
const TOUCH = 2.5;

/** Rules that lie on one another or go on from one another as one. */
function mergeRules(rules: readonly Rule[]): Rule[] {
  return [true, false].flatMap((isAcross) => {
    const sorted = rules.filter((rule) => rule.isAcross === isAcross).sort((a, b) => a.at - b.at);
    const groups: Rule[][] = [];
    for (const rule of sorted) {
      const group = groups.at(-1);
      if (group && rule.at - group[0]!.at <= SAME) group.push(rule);
      else groups.push([rule]);
    }
    return groups.flatMap(joined);
  });
}

function joined(group: readonly Rule[]): Rule[] {
  const at = group.reduce((sum, rule) => sum + rule.at, 0) / group.length;
  const merged: Rule[] = [];
  for (const { isAcross, from, to } of [...group].sort((a, b) => a.from - b.from)) {
    const last = merged.at(-1);
    if (last && from <= last.to + GAP) last.to = Math.max(last.to, to);
    else merged.push({ isAcross, at, from, to });
  }
  return merged;
}

/** The rules of a page, apart by what touches what. */
export function rulingsOf(rules: readonly Rule[]): Ruling[] {
  const merged = mergeRules(rules);
  const across = merged.filter(({ isAcross }) => isAcross);
  const down = merged.filter(({ isAcross }) => !isAcross);
  const group = new Map<Rule, Rule>(merged.map((rule) => [rule, rule]));
  const rootOf = (rule: Rule): Rule => {
    let root = rule;
    while (group.get(root) !== root) root = group.get(root)!;
    group.set(rule, root);
    return root;
  };
  for (const one of across) for (const other of down) if (touch(one, other)) group.set(rootOf(one), rootOf(other));
  const rulings = new Map<Rule, Ruling>();
  for (const rule of merged) {
    const root = rootOf(rule);
    const ruling = rulings.get(root) ?? { across: [], down: [] };
    (rule.isAcross ? ruling.across : ruling.down).push(rule);
    rulings.set(root, ruling);
  }
  return [...rulings.values()];
}

function touch(across: Rule, down: Rule): boolean {
  return down.at >= across.from - TOUCH && down.at <= across.to + TOUCH && across.at >= down.from - TOUCH && across.at <= down.to + TOUCH;
}
