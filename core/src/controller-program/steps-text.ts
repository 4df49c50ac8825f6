import { formulaText } from '../formula/index.js';
import type { Transform, TransformKind } from '../steps/index.js';
import { rangeOf } from '../types/index.js';
import { type Chain, NotInProgram, realText } from './chain.js';
import { lineText } from './ends-text.js';
import { hex } from './words-text.js';

/** What surrounds a step of a route in a program. */
export interface Around {
  /** A name for what this step remembers, and whether it remembers anything yet. */
  kept: string;
  isKept: string;
  /** Milliseconds since the value went out that it remembers. */
  sinceMs: string;
  /** Whether another point is on. */
  isOn(pointId: string): string;
  /** The value of another point into the chain, in units. */
  read(pointId: string, chain: Chain): void;
  /** A variable of the route for this step alone, of a type, by what it is for. */
  own(what: string, type: string): string;
}

/** What a kind of step does, in Structured Text: what comes is at hand in the chain, and so is what goes on. */
type StepText<Kind extends TransformKind> = (step: Extract<Transform, { kind: Kind }>, chain: Chain, around: Around) => void;

/** Every kind of step. A new one is one entry here. */
const texts: { [Kind in TransformKind]: StepText<Kind> } = {
  scale: ({ factor, offset }, chain) => {
    chain.number();
    chain.say(...lineText(factor, offset));
  },
  round: ({ decimals, direction }, chain) => {
    chain.number();
    const power = 10 ** Math.abs(decimals);
    const raised = decimals === 0 ? '§x' : `§x ${decimals > 0 ? '*' : '/'} ${realText(power)}`;
    const called = { nearest: '§RoundUp', down: '§Floor', up: '§Ceiling' }[direction];
    chain.say(`§x := ${called}(${raised})${decimals === 0 ? '' : ` ${decimals > 0 ? '/' : '*'} ${realText(power)}`};`);
  },
  clamp: ({ low, high }, chain) => {
    chain.number();
    chain.say(`§limited := §limited OR (§x < ${realText(low)}) OR (§x > ${realText(high)});`);
    chain.say(`§x := LIMIT(${realText(low)}, §x, ${realText(high)});`);
  },
  arithmetic: ({ expression }, chain) => {
    chain.number();
    const formula = formulaText(expression, '§x', realText);
    if (!formula) throw new NotInProgram(`The formula ${expression} cannot be read.`);
    for (const need of formula.needs) chain.require(need);
    chain.say(`§x := ${formula.text};`);
    chain.require(`ABS(§x) <= ${chain.dialect.greatest}`);
  },
  codes: ({ pairs, otherwise }, chain) => {
    chain.whole();
    chain.say(
      'CASE §n OF',
      ...pairs.map(({ from, to }) => `  ${from}: §n := ${to};`),
      'ELSE',
      otherwise === null ? '  §ok := FALSE;' : `  §n := ${otherwise};`,
      'END_CASE;',
    );
    if (otherwise === null) chain.require('§ok');
  },
  extract: ({ at, count }, chain) => {
    const { bits } = bitsIn(chain, at + count);
    chain.say(`§n := ${whole(chain, `SHR(${bits}, ${at}) AND ${chain.dialect.bits}#16#${mask(count)}`)};`);
  },
  insert: () => undefined,
  invert: ({ count }, chain) => {
    const { bits } = bitsIn(chain, count);
    chain.say(`§n := ${whole(chain, `(NOT ${bits}) AND ${chain.dialect.bits}#16#${mask(count)}`)};`);
  },
  cast: ({ type, past }, chain) => {
    const { low, high } = rangeOf(type);
    const { real, whole: wide, width, most } = chain.dialect;
    if (width === 32 && type.endsWith('32'))
      throw new NotInProgram('A value is taken as 32 bits, for which numbers of 64 bits are needed.');
    chain.number();
    chain.require(`ABS(§x) <= ${most}`);
    chain.say(`§n := ${real}_TRUNC_${wide}(§x);`);
    chain.held = { form: 'whole' };
    const span = high - low + 1;
    if (past === 'stop') chain.say(`§n := LIMIT(${low}, §n, ${high});`);
    else chain.say(`§n := (((§n - (${low})) MOD ${span}) + ${span}) MOD ${span} + (${low});`);
  },
  // It is done where the words of the source are read.
  swap: () => undefined,
  deadband: ({ by }, chain, { kept, isKept }) => {
    chain.number();
    chain.say(`§held := §held OR (${isKept} AND (ABS(§x - ${kept}) < ${realText(by)}));`);
  },
  rate: ({ perSecond }, chain, { kept, isKept, sinceMs }) => {
    chain.number();
    const most = `${realText(perSecond)} * DINT_TO_${chain.dialect.real}(${sinceMs}) / 1000.0`;
    chain.say(`IF ${isKept} THEN §x := ${kept} + LIMIT(-(${most}), §x - ${kept}, ${most}); END_IF;`);
  },
  join: ({ pointId, at, count }, chain, around) => {
    const { dialect } = chain;
    if (dialect.width === 32) throw new NotInProgram('Two values are joined, for which numbers of 64 bits are needed.');
    chain.whole();
    chain.say('§m := §n;');
    around.read(pointId, chain);
    chain.whole();
    const part = `16#${hex((2n ** BigInt(count) - 1n) << BigInt(at))}`;
    chain.say(
      `§n := LWORD_TO_LINT((LINT_TO_LWORD(§m) AND LWORD#16#FFFFFFFF AND NOT LWORD#${part}) OR (SHL(LINT_TO_LWORD(§n), ${at}) AND LWORD#${part}));`,
    );
  },
  select: ({ pointId, otherwise, otherwiseId }, chain, around) => {
    chain.number();
    if (!otherwiseId) return chain.say(`IF NOT ${around.isOn(pointId)} THEN §x := ${realText(otherwise)}; END_IF;`);
    chain.say('§y := §x;');
    around.read(otherwiseId, chain);
    chain.number();
    chain.say(`IF ${around.isOn(pointId)} THEN §x := §y; END_IF;`);
  },
  constant: ({ value }, chain) => {
    chain.say(`§x := ${realText(value)};`);
    chain.held = { form: 'number' };
  },
  beat: ({ pattern, everyMs }, chain, { own }) => {
    const [every, values] = pattern === 'clock' ? [1000, 3600] : [everyMs, pattern === 'toggle' ? 2 : 65_536];
    const beat = own('beat', '§Beat');
    chain.say(`${beat}(elapsedMs := §elapsedMs, everyMs := ${every}, values := ${values});`);
    chain.held = { form: 'raw', iec: 'DINT', text: `${beat}.value` };
  },
  text: ({ length, pad, side, cut }, chain) => {
    if (chain.held.form !== 'text') throw new NotInProgram('A number is cut as a text.');
    if (!cut) chain.require(`LEN(§s) <= ${length}`);
    chain.say(`§s := ${side === 'right' ? 'LEFT' : 'RIGHT'}(§s, ${length});`);
    if (pad === 'none') return;
    const filler = pad === 'blank' ? "' '" : "'0'";
    chain.say(`WHILE LEN(§s) < ${length} DO §s := CONCAT(${side === 'right' ? `§s, ${filler}` : `${filler}, §s`}); END_WHILE;`);
  },
};

/** Leads the value at hand through a step. */
export function stepText(step: Transform, chain: Chain, around: Around): void {
  (texts[step.kind] as StepText<TransformKind>)(step as never, chain, around);
}

function bitsIn(chain: Chain, reaches: number): { bits: string } {
  const { bits, whole: wide, width } = chain.dialect;
  const { held } = chain;
  const isWide = held.form === 'raw' && (width === 32 ? /^(UDINT|DWORD)$/ : /^(ULINT|LWORD)$/).test(held.iec);
  if (reaches > width || (reaches === width && !isWide))
    throw new NotInProgram(`Bits up to ${reaches - 1} are taken, for which numbers of 64 bits are needed.`);
  if (isWide) {
    chain.held = { form: 'whole' };
    return { bits: held.iec === bits ? held.text : `${held.iec}_TO_${bits}(${held.text})` };
  }
  chain.whole();
  return { bits: `${wide}_TO_${bits}(§n)` };
}

function whole({ dialect }: Chain, bits: string): string {
  return `${dialect.bits}_TO_${dialect.whole}(${bits})`;
}

function mask(count: number): string {
  return hex(2n ** BigInt(count) - 1n);
}
