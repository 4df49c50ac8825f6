import {
  type At,
  type Code,
  convert,
  INT,
  isWhole,
  mistake,
  pure,
  type Run,
  settled,
  Stopped,
  STRING,
  type Type,
  typeName,
} from '../language/index.js';
import type { Call, StandardFunction } from './definition.js';

/** As long as a text becomes while it is put together; where it is kept, it is cut to its length. */
const LONGEST: Type = { kind: 'string', length: 1024 };

function text(code: Code): Code {
  return convert(code, STRING);
}

function number(code: Code, { name }: Call): Run {
  const given = settled(code);
  if (!isWhole(given.type)) mistake(code.at, `${name} takes a whole number here, not ${typeName(given.type)}.`);
  return (slots) => Number(given.run(slots));
}

function notNegative(value: number, what: string, at: At): number {
  if (value < 0) throw new Stopped(`${what} is ${value}; it takes no negative number.`, at);
  return value;
}

/** A function of a text and numbers that gives a text. */
function ofText(
  name: string,
  parameters: readonly string[],
  says: string,
  calculate: (texts: string[], numbers: number[], at: At) => string,
): StandardFunction {
  return {
    name,
    parameters,
    says,
    compile: (call) => {
      const isText = (index: number) => parameters[index]!.startsWith('IN');
      const texts = call.args.filter((_, index) => isText(index)).map((code) => text(code).run);
      const numbers = call.args.filter((_, index) => !isText(index)).map((code) => number(code, call));
      const run: Run = (slots) =>
        calculate(
          texts.map((one) => one(slots) as string),
          numbers.map((one) => one(slots) as number),
          call.at,
        );
      return pure(LONGEST, run, call.at, ...call.args);
    },
  };
}

/** Texts; places are counted from 1 (edition 3, table 34). */
export const textFunctions: readonly StandardFunction[] = [
  {
    name: 'LEN',
    parameters: ['IN'],
    says: 'How many characters a text has.',
    compile: ({ args, at }) => {
      const { run } = text(args[0]!);
      return pure(INT, (slots) => (run(slots) as string).length, at, args[0]!);
    },
  },
  ofText('LEFT', ['IN', 'L'], 'The first L characters.', ([value], [length], at) => value!.slice(0, notNegative(length!, 'L of LEFT', at))),
  ofText('RIGHT', ['IN', 'L'], 'The last L characters.', ([value], [length], at) =>
    value!.slice(Math.max(0, value!.length - notNegative(length!, 'L of RIGHT', at))),
  ),
  ofText('MID', ['IN', 'L', 'P'], 'L characters from the place P on.', ([value], [length, place], at) => {
    const from = startOf(place!, 'MID', at);
    return value!.slice(from, from + notNegative(length!, 'L of MID', at));
  }),
  {
    name: 'CONCAT',
    parameters: ['IN1', 'IN2'],
    more: true,
    says: 'The texts one after the other.',
    compile: ({ args, at }) => {
      const runs = args.map((code) => text(code).run);
      return pure(
        LONGEST,
        (slots) =>
          runs
            .map((run) => run(slots) as string)
            .join('')
            .slice(0, 1024),
        at,
        ...args,
      );
    },
  },
  ofText('INSERT', ['IN1', 'IN2', 'P'], 'IN1 with IN2 after its place P.', ([one, other], [place], at) => {
    const after = notNegative(place!, 'P of INSERT', at);
    return (one!.slice(0, after) + other! + one!.slice(after)).slice(0, 1024);
  }),
  ofText('DELETE', ['IN', 'L', 'P'], 'Without L characters from the place P on.', ([value], [length, place], at) => {
    const from = startOf(place!, 'DELETE', at);
    return value!.slice(0, from) + value!.slice(from + notNegative(length!, 'L of DELETE', at));
  }),
  ofText(
    'REPLACE',
    ['IN1', 'IN2', 'L', 'P'],
    'IN1 with IN2 in place of L characters from the place P on.',
    ([one, other], [length, place], at) => {
      const from = startOf(place!, 'REPLACE', at);
      return (one!.slice(0, from) + other! + one!.slice(from + notNegative(length!, 'L of REPLACE', at))).slice(0, 1024);
    },
  ),
  {
    name: 'FIND',
    parameters: ['IN1', 'IN2'],
    says: 'The place at which IN2 stands in IN1; 0 where it does not.',
    compile: ({ args, at }) => {
      const [one, other] = args.map((code) => text(code).run) as [Run, Run];
      const run: Run = (slots) => {
        const wanted = other(slots) as string;
        return wanted === '' ? 0 : (one(slots) as string).indexOf(wanted) + 1;
      };
      return pure(INT, run, at, ...args);
    },
  },
];

function startOf(place: number, name: string, at: At): number {
  if (place < 1) throw new Stopped(`P of ${name} is ${place}; places are counted from 1.`, at);
  return place - 1;
}
