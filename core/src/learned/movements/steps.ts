import { literalOf } from '../../behaviours/index.js';
import { typeName } from '../../program/index.js';
import { figure, type Movement } from '../movement.js';

/** More changes than these are no steps that a person would read. */
const MOST = 24;
/** What is seen only once or twice at a value is on its way, and does not stay there. */
const STAYS = 3;

/** A state, or a word of bits, that stays at each of a few values for a while: it goes through them again and again. */
export const steps: Movement = {
  id: 'steps',
  find({ variable, values, seen }) {
    const type = typeName(variable.type);
    if (seen.length !== values.length || !/INT$|WORD$|BYTE$/.test(type)) return null;
    const stretches: { value: unknown; fromS: number }[] = [];
    values.forEach((value, index) => {
      if (stretches.at(-1)?.value !== value) stretches.push({ value, fromS: seen[index]!.atS });
    });
    if (stretches.length < 2 || stretches.length > MOST || seen.length < STAYS * stretches.length) return null;
    const endS = seen.at(-1)!.atS;
    const stays = stretches.map(({ value, fromS }, index) => {
      const forMs = Math.max(100, Math.round(((stretches[index + 1]?.fromS ?? endS) - fromS) * 1000));
      return { text: literalOf(variable.type, value), forMs };
    });
    return {
      says: `goes through ${new Set(stretches.map(({ value }) => value)).size} values in ${figure(endS)} s`,
      begins: false,
      moves: {
        by: 'lines',
        write(own) {
          const [step, stay, timer] = [own('step'), own('stays'), own('stayed')];
          return {
            declare: [`${step} : INT;`, `${stay} : TIME;`, `${timer} : TON;`],
            lines: [
              `CASE ${step} OF`,
              ...stays.map(({ text, forMs }, index) => `  ${index}: ${variable.name} := ${text}; ${stay} := T#${forMs}ms;`),
              `END_CASE;`,
              `${timer}(IN := TRUE, PT := ${stay});`,
              `IF ${timer}.Q THEN`,
              `  ${timer}(IN := FALSE);`,
              `  ${step} := (${step} + 1) MOD ${stays.length};`,
              `END_IF;`,
            ],
          };
        },
      },
    };
  },
};
