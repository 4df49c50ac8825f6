import {
  BOOL,
  type Code,
  convert,
  isNumber,
  LREAL,
  mistake,
  REAL,
  type Run,
  settled,
  TIME,
  type Type,
  typeName,
} from '../language/index.js';
import type { Call, StandardFunction } from './definition.js';

/** The longest text that goes out or comes in at once. */
const LONGEST_TEXT = 1024;

/** A number as the REAL that a device measures. */
function measured(code: Code, { name }: Call): Code {
  const value = settled(code);
  if (!isNumber(value.type)) mistake(code.at, `${name} takes a number, not ${typeName(value.type)}.`);
  return {
    ...value,
    type: LREAL,
    run: (slots) => Number(value.run(slots)),
    ...(value.constant === undefined ? {} : { constant: Number(value.constant) }),
  };
}

/** A REAL as whoever takes it wants it: of single precision. */
function asReal(run: (slots: unknown[]) => number, type: Type = REAL): Pick<Code, 'type' | 'run'> {
  return { type, run: (slots) => Math.fround(run(slots)) };
}

/** What it remembers is kept beside the variables, so that two calls in one text do not share it. */
function memory(call: Call): number {
  if (call.scope.unit?.kind === 'function')
    mistake(call.at, `${call.name} remembers what was before, and a function remembers nothing. Use it in a program or a function block.`);
  return call.scope.remember(() => null);
}

/** Noise that is the same at every start (a linear congruential generator), between −1 and 1. */
function nextNoise(state: number): [number, number] {
  const next = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0;
  return [next, next / 0x8000_0000 - 1];
}

/** What only stand-ins have, so that a device can be played in a few lines. */
export const ourFunctions: readonly StandardFunction[] = [
  {
    name: 'LAG',
    parameters: ['IN', 'T'],
    ours: true,
    says: 'Follows IN like something warm: after the time T two thirds of the way are gone.',
    compile: (call) => {
      const [value, time] = [measured(call.args[0]!, call), convert(call.args[1]!, TIME)];
      const slot = memory(call);
      const { machine } = call.scope.world;
      const follow = (slots: unknown[]) => {
        const goal = value.run(slots) as number;
        const before = slots[slot] as number | null;
        const constant = time.run(slots) as number;
        const share = constant > 0 ? 1 - Math.exp(-machine.scanMs / constant) : 1;
        const now = before === null ? goal : before + (goal - before) * share;
        slots[slot] = now;
        return now;
      };
      return { ...asReal(follow), at: call.at };
    },
  },
  {
    name: 'RAMP',
    parameters: ['IN', 'PER_SECOND'],
    ours: true,
    says: 'Moves towards IN by at most so much in a second; it begins at 0.',
    compile: (call) => {
      const [value, rate] = [measured(call.args[0]!, call), measured(call.args[1]!, call)];
      const slot = memory(call);
      const { machine } = call.scope.world;
      const follow = (slots: unknown[]) => {
        const goal = value.run(slots) as number;
        const before = (slots[slot] as number | null) ?? 0;
        const most = (Math.abs(rate.run(slots) as number) * machine.scanMs) / 1000;
        const now = before < goal ? Math.min(goal, before + most) : Math.max(goal, before - most);
        slots[slot] = now;
        return now;
      };
      return { ...asReal(follow), at: call.at };
    },
  },
  {
    name: 'NOISE',
    parameters: ['AMPLITUDE'],
    ours: true,
    says: 'A number between −AMPLITUDE and AMPLITUDE, another one in each scan.',
    compile: (call) => {
      const amplitude = measured(call.args[0]!, call);
      const slot = memory(call);
      // Two calls in one program are not alike.
      const seed = (call.at.line * 131 + call.at.column) >>> 0;
      const noise = (slots: unknown[]) => {
        const [state, value] = nextNoise((slots[slot] as number | null) ?? seed);
        slots[slot] = state;
        return value * (amplitude.run(slots) as number);
      };
      return { ...asReal(noise), at: call.at };
    },
  },
  {
    name: 'SINE',
    parameters: ['PERIOD', 'AMPLITUDE'],
    ours: true,
    says: 'A sine between −AMPLITUDE and AMPLITUDE that repeats after PERIOD.',
    compile: (call) => {
      const [period, amplitude] = [convert(call.args[0]!, TIME), measured(call.args[1]!, call)];
      const { machine } = call.scope.world;
      const sine = (slots: unknown[]) => {
        const length = period.run(slots) as number;
        return length > 0 ? Math.sin((machine.nowMs / length) * 2 * Math.PI) * (amplitude.run(slots) as number) : 0;
      };
      return { ...asReal(sine), at: call.at };
    },
  },
  {
    name: 'SILENT_FOR',
    parameters: [],
    ours: true,
    says: 'How long no master has spoken to this device.',
    compile: ({ at, scope }) => ({ type: TIME, run: () => scope.world.machine.outside.silentMs, at }),
  },
  {
    name: 'WRITTEN',
    parameters: ['POINT'],
    ours: true,
    says: 'Whether a master has written this point since the last scan.',
    compile: ({ args, at, scope }) => {
      const index = args[0]!.place?.outer ?? null;
      if (index === null) mistake(args[0]!.at, 'WRITTEN takes a point of the device.');
      const run: Run = () => scope.world.machine.outside.isWritten(index);
      return { type: BOOL, run, at };
    },
  },
  {
    name: 'SEND',
    parameters: ['TEXT'],
    ours: true,
    acts: true,
    says: 'Sends a text from the text port of this device; FALSE where too much waits to be sent.',
    compile: ({ args, at, scope }) => {
      const text = convert(settled(args[0]!), { kind: 'string', length: LONGEST_TEXT });
      return { type: BOOL, run: (slots) => scope.world.machine.outside.send(text.run(slots) as string), at };
    },
  },
  {
    name: 'RECEIVED',
    parameters: [],
    ours: true,
    says: 'The next text that came in at the text port of this device, with its end mark; empty where none came.',
    compile: ({ at, scope }) => ({
      type: { kind: 'string', length: LONGEST_TEXT },
      run: () => scope.world.machine.outside.received(),
      at,
    }),
  },
];
