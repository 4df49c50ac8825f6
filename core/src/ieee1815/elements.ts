/** What an object holds, by name: numbers and flags. Times are ms since 1970. */
export type Held = Record<string, number | boolean>;

/** A part of an object (IEEE 1815, annex A): so many octets, and what they hold. */
export interface Element {
  bytes: number;
  read(bytes: Uint8Array): Held;
  write(held: Held): number[];
  tell(held: Held): string;
}

const number = (held: Held, name: string): number => Number(held[name] ?? 0);
const view = (bytes: Uint8Array) => new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);

function octets(count: number, write: (view: DataView) => void): number[] {
  const bytes = new Uint8Array(count);
  write(view(bytes));
  return [...bytes];
}

const common = ['online', 'restart', 'communicationLost', 'remoteForced', 'localForced'] as const;
const words: Readonly<Record<string, string>> = {
  restart: 'since its restart',
  communicationLost: 'communication lost',
  remoteForced: 'forced from afar',
  localForced: 'forced there',
  chatter: 'chattering',
  rollover: 'went over its end',
  discontinuity: 'not comparable with the last',
  overRange: 'past its range',
  referenceError: 'reference wrong',
};

/** An octet of flags, the lowest first; what is above them is a state of one or two bits. */
function flags(names: readonly string[], state?: { from: number; bits: number; says: readonly string[] }): Element {
  return {
    bytes: 1,
    read: ([octet]) => ({
      ...Object.fromEntries(names.map((name, bit) => [name, ((octet! >> bit) & 1) === 1])),
      ...(state ? { value: (octet! >> state.from) & (2 ** state.bits - 1) } : {}),
    }),
    write: (held) => [
      names.reduce((octet, name, bit) => octet | (Number(held[name] === true) << bit), 0) |
        (state ? (number(held, 'value') & (2 ** state.bits - 1)) << state.from : 0),
    ],
    tell: (held) => {
      const said = names.filter((name) => held[name] === true && words[name]).map((name) => words[name]!);
      const all = [...(state ? [state.says[number(held, 'value')]!] : []), ...(held['online'] === true ? [] : ['offline']), ...said];
      return all.join(', ');
    },
  };
}

export const binaryFlags = flags([...common, 'chatter'], { from: 7, bits: 1, says: ['off', 'on'] });
export const outputFlags = flags([...common], { from: 7, bits: 1, says: ['off', 'on'] });
export const doubleFlags = flags([...common, 'chatter'], { from: 6, bits: 2, says: ['in between', 'off', 'on', 'indeterminate'] });
export const counterFlags = flags([...common, 'rollover', 'discontinuity']);
export const analogFlags = flags([...common, 'overRange', 'referenceError']);

/** A number as a `DataView` has it, the low octet first, told with so many digits. */
function numeric(bytes: number, kind: 'Int32' | 'Int16' | 'Uint32' | 'Uint16' | 'Float32', digits = 10): Element {
  return {
    bytes,
    read: (own) => ({ value: view(own)[`get${kind}`](0, true) }),
    write: (held) => octets(bytes, (at) => at[`set${kind}`](0, number(held, 'value'), true)),
    tell: (held) => String(Number(number(held, 'value').toPrecision(digits))),
  };
}

export const int32 = numeric(4, 'Int32');
export const int16 = numeric(2, 'Int16');
export const uint32 = numeric(4, 'Uint32');
export const uint16 = numeric(2, 'Uint16');
export const float32 = numeric(4, 'Float32', 7);

/** ms since 1970 in six octets, UTC. */
export const time48: Element = {
  bytes: 6,
  read: (bytes) => ({ time: view(bytes).getUint32(0, true) + view(bytes).getUint16(4, true) * 2 ** 32 }),
  write: (held) =>
    octets(6, (at) => {
      at.setUint32(0, number(held, 'time') % 2 ** 32, true);
      at.setUint16(4, Math.floor(number(held, 'time') / 2 ** 32), true);
    }),
  tell: (held) => {
    const time = number(held, 'time');
    return time <= 8.64e15 ? new Date(time).toISOString().replace('T', ' ').replace('Z', ' UTC') : `${time} ms`;
  },
};

/** ms after the common time that stands before. */
export const relative: Element = {
  bytes: 2,
  read: (bytes) => ({ afterMs: view(bytes).getUint16(0, true) }),
  write: (held) => octets(2, (at) => at.setUint16(0, number(held, 'afterMs'), true)),
  tell: (held) => `${number(held, 'afterMs')} ms after the common time`,
};

const operations = ['nothing', 'pulse on', 'pulse off', 'latch on', 'latch off'];
const ways = ['', 'close', 'trip', 'reserved'];

/** Control relay output block. */
export const crob: Element = {
  bytes: 10,
  read: (bytes) => ({
    ...{ operation: bytes[0]! & 0x0f, queue: (bytes[0]! & 0x10) !== 0, clear: (bytes[0]! & 0x20) !== 0, way: bytes[0]! >> 6 },
    ...{ count: bytes[1]!, onMs: view(bytes).getUint32(2, true), offMs: view(bytes).getUint32(6, true) },
  }),
  write: (held) =>
    octets(10, (at) => {
      const control = (held['queue'] === true ? 0x10 : 0) | (held['clear'] === true ? 0x20 : 0) | ((number(held, 'way') & 3) << 6);
      at.setUint8(0, (number(held, 'operation') & 0x0f) | control);
      at.setUint8(1, number(held, 'count'));
      at.setUint32(2, number(held, 'onMs'), true);
      at.setUint32(6, number(held, 'offMs'), true);
    }),
  tell: (held) => {
    const [operation, count] = [number(held, 'operation'), number(held, 'count')];
    const way = ways[number(held, 'way')]!;
    const pulse = operation === 1 || operation === 2 ? ` of ${number(held, operation === 1 ? 'onMs' : 'offMs')} ms` : '';
    return `${way ? `${way}, ` : ''}${operations[operation] ?? `operation ${operation}`}${pulse}${count === 1 ? '' : `, ${count} times`}`;
  },
};

const statuses: Readonly<Record<number, string>> = {
  0: 'accepted',
  1: 'selected too long ago',
  2: 'not selected before',
  3: 'wrongly put',
  4: 'not supported',
  5: 'already active',
  6: 'hardware trouble',
  7: 'only locally',
  8: 'too many at once',
  9: 'not authorised',
  10: 'inhibited by automation',
  12: 'out of range',
};

/** What became of a command; 0 in the question. */
export const status: Element = {
  bytes: 1,
  read: ([octet]) => ({ status: octet! & 0x7f }),
  write: (held) => [number(held, 'status') & 0x7f],
  tell: (held) => statuses[number(held, 'status')] ?? `status ${number(held, 'status')}`,
};
