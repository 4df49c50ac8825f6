import type { Transform } from '../model/index.js';

/** A step in a few words, as it stands on a ribbon: `× 10`, `whole`, `bit 3`, `into bits 4…7`. */
export function describeStep(step: Transform): string {
  switch (step.kind) {
    case 'scale': {
      const times = step.factor === 1 ? '' : `× ${step.factor}`;
      const plus = step.offset === 0 ? '' : step.offset < 0 ? `− ${-step.offset}` : `+ ${step.offset}`;
      return [times, plus].filter(Boolean).join(' ') || '× 1';
    }
    case 'clamp':
      return `within ${step.low} … ${step.high}`;
    case 'round': {
      const way = step.direction === 'nearest' ? 'round' : `round ${step.direction}`;
      return step.decimals === 0 ? `${way} → whole` : `${way} to ${10 ** -step.decimals}`;
    }
    case 'cast':
      return `as ${step.type}, ${step.past === 'wrap' ? 'wraps' : 'stops at its ends'}`;
    case 'extract':
      return bits(step);
    case 'insert':
      return `into ${bits(step)}`;
    case 'invert':
      return step.count === 1 ? 'inverted' : `${step.count} bits inverted`;
    case 'codes':
      return step.pairs.length > 2 ? `${step.pairs.length} codes` : step.pairs.map(({ from, to }) => `${from} → ${to}`).join(', ');
    case 'swap':
      return step.what === 'both' ? 'bytes and words swapped' : `${step.what} swapped`;
    case 'text':
      return `${step.length} characters`;
    case 'beat':
      return `heartbeat, ${step.pattern}`;
    case 'constant':
      return `always ${step.value}`;
    case 'select':
      return step.otherwiseId ? 'or another point' : `else ${step.otherwise}`;
    case 'join':
      return `another point in ${bits(step)}`;
    case 'deadband':
      return `moved by ${step.by}`;
    case 'rate':
      return `at most ${step.perSecond} a second`;
    case 'arithmetic':
      return step.expression;
  }
}

/** The whole chain: `× 10, round → whole`. Empty where the value crosses as it is. */
export function describeChain(steps: readonly Transform[]): string {
  return steps.map(describeStep).join(', ');
}

function bits({ at, count }: { at: number; count: number }): string {
  return count === 1 ? `bit ${at}` : `bits ${at}…${at + count - 1}`;
}
