import { rtuFrame } from '../codec/index.js';
import { describeReckoners, reckoners, reckon } from './index.js';

function value(name: string, input: unknown) {
  const result = reckon(name, input);
  if (!result.ok) throw new Error(result.problem.message);
  return result.value;
}

function problem(name: string, input: unknown) {
  const result = reckon(name, input);
  return result.ok ? null : result.problem;
}

describe('range', () => {
  it('finds the third of first, last and count; both ends count', () => {
    const expected = { first: 600, last: 641, count: 42, perRequest: 125, requests: [{ first: 600, count: 42 }] };
    expect(value('range', { first: 600, last: 641 })).toEqual(expected);
    expect(value('range', { first: 600, count: 42 })).toEqual(expected);
    expect(value('range', { last: 641, count: 42 })).toEqual(expected);
  });

  it('cuts into requests by what one carries', () => {
    expect(value('range', { first: 0, count: 300 })).toEqual(
      jasmine.objectContaining({
        requests: [
          { first: 0, count: 125 },
          { first: 125, count: 125 },
          { first: 250, count: 50 },
        ],
      }),
    );
    expect(value('range', { first: 0, count: 2001, table: 'coil' })).toEqual(jasmine.objectContaining({ perRequest: 2000 }));
    expect(value('range', { first: 0, count: 130, table: 'holding', write: true })).toEqual(jasmine.objectContaining({ perRequest: 123 }));
  });

  it('refuses too little, too much and the impossible', () => {
    expect(problem('range', { first: 1 })?.message).toContain('two of first, last and count');
    expect(problem('range', { first: 1, last: 2, count: 2 })?.message).toContain('two of first, last and count');
    expect(problem('range', { first: 10, last: 9 })?.message).toContain('before the first');
    expect(problem('range', { last: 3, count: 10 })?.message).toContain('would start at -6');
    expect(problem('range', { first: 0, count: 1, table: 'input', write: true })?.message).toContain('No function writes');
    expect(problem('range', { first: 65_530, count: 10 })?.message).toBe('The last would be 65539; registers end at 65535.');
    expect(problem('range', { first: 65_530, count: 10, table: 'coil' })?.message).toBe('The last would be 65539; coils end at 65535.');
    expect(problem('range', { first: 465_530, count: 10 })?.message).toBe('The last would be 465539; holding registers end at 465536.');
    expect(problem('range', { first: 465_530, count: 2, table: 'input' })?.message).toContain('is a reference of holding registers');
    expect(problem('range', { first: 70_000, last: 70_001 })?.message).toContain('end at 65535');
    expect(value('range', { first: 400_001, last: 465_536, table: 'holding' })).toEqual(jasmine.objectContaining({ count: 65_536 }));
    expect(problem('range', { first: 1.5, count: 1 })).toEqual({ message: 'A whole number.', path: ['first'] });
  });
});

describe('bits', () => {
  it('shows a word in all ways, from any one of them', () => {
    const expected = { word: 0x8005, hex: '80 05', binary: '1000000000000101', bits: [0, 2, 15], fromOne: [1, 3, 16] };
    expect(value('bits', { word: 0x8005 })).toEqual(expected);
    expect(value('bits', { bits: [15, 0, 2, 2] })).toEqual(expected);
    for (const mask of ['0x8005', '8005', '$8005', '8005h', '16#8005', '0x80_05', '2#1000000000000101'])
      expect(value('bits', { mask })).withContext(mask).toEqual(expected);
  });

  it('refuses bits that a word does not have', () => {
    expect(problem('bits', { bits: [16] })).toEqual({ message: 'A word ends at bit 15.', path: ['bits', 0] });
    expect(problem('bits', { mask: 'zz' })?.path).toEqual(['mask']);
    expect(problem('bits', {})?.message).toContain('one of word, bits and mask');
  });
});

describe('what could be taken for something else', () => {
  it('is listed in all its readings: a controller’s letter that is a hex digit', () => {
    const { readings } = value('address', { text: 'D100' }) as { readings: { notation: string; offset: number }[] };
    expect(readings.map(({ notation, offset }) => [notation, offset])).toEqual([
      ['area', 100],
      ['hex', 0xd100],
    ]);
  });

  it('is told with how sure it is: a damaged frame of unit 1 is no Modbus TCP', () => {
    const told = (hex: string) =>
      value('frame', { hex }) as { framing: string; problems: string[]; readings: { how: string; sentence: string }[] };
    const damaged = told('01 03 00 00 00 0A C5 CC');
    expect([damaged.framing, damaged.readings.map(({ how }) => how)]).toEqual(['rtu', ['likely', 'possible']]);
    expect(damaged.readings[1]!.sentence).toBe(
      'These bytes could be TCP: their header could be one, though 2 bytes follow where it announces 10.',
    );
    expect(told('0B 03 00 21 30').problems.join(' ')).toContain('byte count is 0');
    expect(told('FA 03 00 00 00 01 91 81').problems).toEqual([]);
    expect(problem('frame', { hex: '0B 03 0' })).toBeNull();
    expect(problem('frame', { hex: '0B030' })?.message).toContain('half a byte');
  });

  it('is an answer by itself, not a request for more than a request may ask for', () => {
    const frames = (pdu: number[]) => {
      const hex = [...rtuFrame({ unit: 21, pdu: Uint8Array.from(pdu) })].map((byte) => byte.toString(16).padStart(2, '0')).join('');
      return (value('stream', { hex }) as { frames: { direction: string }[] }).frames.map(({ direction }) => direction);
    };
    expect(frames([1, 3, 0x01, 0x0b, 0x0c])).toEqual(['response']);
    expect(frames([1, 3, 0x01, 0x00, 0x0c])).toEqual(['request']);
  });

  it('is told of writes that undo a part of each other', () => {
    const write = (id: string, offset: number, length: number) => ({ id, table: 'holding', offset, length, write: true });
    const { overlaps } = value('plan', {
      points: [write('b', 2, 2), write('a', 0, 3), write('c', 4, 1), { ...write('r', 0, 9), write: false }],
    }) as {
      overlaps: unknown;
    };
    expect(overlaps).toEqual([['a', 'b']]);
  });

  it('is an address that no host can have, a gateway that passes nothing on, and a way that is not there', () => {
    const host = (name: string, ip: string, gateway?: string) => ({ name, ip, mask: '/24', ...(gateway ? { gateway } : {}) });
    const found = (...hosts: object[]) =>
      (value('subnet', { hosts }) as { findings: { host: string; message: string }[] }).findings.map(({ message }) => message);
    for (const ip of ['127.0.0.1', '224.0.0.5', '169.254.3.4', '0.0.0.1'])
      expect(found(host('A', ip)).join())
        .withContext(ip)
        .toContain('no device of a plant');
    expect(found(host('A', '10.40.8.10', '10.40.8.10'))[0]).toContain('its own address');
    expect(found(host('A', '10.40.8.10', '10.40.8.0'))[0]).toContain('the name of the network');
    expect(found(host('A', '10.40.8.10', '10.40.8.255'))[0]).toContain('the broadcast address');
    expect(found(host('A', '10.40.8.10', '10.40.8.1'), host('B', '10.40.9.10'))).toEqual([
      'B is in 10.40.9.0/24 and names no gateway, so nothing of 10.40.8.0/24 is reached from it.',
    ]);
    expect(found(host('A', '10.40.8.10'))).toEqual([]);
  });
});

describe('the others', () => {
  it('decode and encode as the fixed fields say', () => {
    expect(value('decode', { words: [0, 0x4276], type: 'float32', order: 'CDAB' })).toEqual({ raw: 61.5, value: 61.5 });
    expect(value('decode', { words: [615], type: 'int16', scale: { factor: 0.1 } })).toEqual({ raw: 615, value: 61.5 });
    expect(value('encode', { value: 61.5, type: 'int16', scale: { factor: 0.1, offset: 0 } })).toEqual({ words: [615], exact: true });
    expect(problem('decode', { words: [70000], type: 'int16' })).toEqual({ message: 'A register holds 0 to 65535.', path: ['words', 0] });
    expect(problem('decode', { words: [1], type: 'int17' })?.message).toContain('must be one of');
    expect(problem('decode', { words: [1] })?.path).toEqual(['type']);
  });

  it('checksum takes bytes or text', () => {
    expect(value('checksum', { hex: '0103 0000 000a', kind: 'crc16-modbus' })).toEqual({
      value: 0xcdc5,
      hex: 'C5 CD',
      bytes: [0xc5, 0xcd],
    });
    expect(value('checksum', { text: '123', kind: 'xor8' })).toEqual({ value: 0x30, hex: '30', bytes: [0x30] });
    expect(problem('checksum', { kind: 'lrc' })?.message).toBe('Give either hex or text.');
  });

  it('frame explains, and says in words when it is cut', () => {
    expect(value('frame', { hex: '11 03 00 6B 00 03 76 87' })).toEqual(jasmine.objectContaining({ ok: true, framing: 'rtu' }));
    expect(value('frame', { hex: '11 03 00 6B 00', framing: 'rtu' })).toEqual(jasmine.objectContaining({ ok: false }));
    expect(problem('frame', { hex: 'xx' })?.path).toEqual(['hex']);
  });

  it('are all described by schemas, and a wrong name gets the nearest', () => {
    expect(describeReckoners().map(({ name }) => name)).toEqual([
      'range',
      'bits',
      'address',
      'decode',
      'encode',
      'find-order',
      'scale',
      'checksum',
      'frame',
      'stream',
      'line-time',
      'plan',
      'schedule',
      'subnet',
      'ground-loop',
      'modules',
      'program',
      'names',
      'image',
      'telegram',
      'text-stream',
      'find-telegram',
      'can-frame',
      'can-time',
      'can-log',
      'iec104-frame',
      'ieee1815-frame',
    ]);
    expect(problem('chekcsum', {})?.message).toContain('“checksum”');
  });
});

describe('line-time', () => {
  const input = { baud: 9600, dataBits: 8, parity: 'none', stopBits: 1, framing: 'rtu', functionCode: 3, count: 2 };
  it('gives the fields that scripts rely on', () => {
    const result = reckon('line-time', input);
    expect(result.ok && Object.keys(result.value as object)).toEqual([
      'characterBits',
      'characterMs',
      't15Ms',
      't35Ms',
      'requestBytes',
      'responseBytes',
      'requestMs',
      'responseMs',
      'totalMs',
      'perSecond',
    ] as never);
  });
  it('refuses a count that no request carries, and RTU with 7 bits', () => {
    const message = (changes: object) => {
      const result = reckon('line-time', { ...input, ...changes });
      return result.ok ? '' : result.problem.message;
    };
    expect(message({ count: 126 })).toBe('Function 3, read holding registers, carries at most 125.');
    expect(message({ dataBits: 7 })).toContain('RTU needs 8 data bits');
    expect(message({ functionCode: 99 })).toContain('The functions known here are');
  });
});

describe('schedule', () => {
  const lines = [{ id: 'bus', concurrent: 1 }];
  const request = { id: 'a', line: 'bus', durationMs: 30, periodMs: 50, timeoutMs: 100, tries: 2 };

  it('says what becomes of each period', () => {
    const requests = [request, { ...request, id: 'b', periodMs: 100, durationMs: 40 }];
    expect(value('schedule', { lines, requests, horizonMs: 100 })).toEqual({
      lines: [{ id: 'bus', utilisation: 1 }],
      requests: [
        { id: 'a', meanPeriodMs: 70, worstPeriodMs: 70, worstWaitMs: 20, missed: 0 },
        { id: 'b', meanPeriodMs: null, worstPeriodMs: null, worstWaitMs: 30, missed: 0 },
      ],
      spans: [
        { request: 'a', line: 'bus', fromMs: 0, toMs: 30 },
        { request: 'b', line: 'bus', fromMs: 30, toMs: 70 },
        { request: 'a', line: 'bus', fromMs: 70, toMs: 100 },
      ],
    });
  });

  it('looks at whole repetitions, ten of the longest period, where no horizon is given', () => {
    const spans = (periodMs: number) =>
      (value('schedule', { lines, requests: [request, { ...request, id: 'b', periodMs }] }) as { spans: { fromMs: number }[] }).spans;
    expect(spans(100).at(-1)!.fromMs).toBe(960);
    expect(spans(59_000).at(-1)!.fromMs).toBeCloseTo(58_980, -2);
  });

  it('lets a dead request take its timeout each time, and rest where that is asked', () => {
    const dead = { lines, requests: [{ ...request, dead: true }], horizonMs: 2000 };
    const spans = (input: object) => (value('schedule', input) as { spans: { fromMs: number }[] }).spans.map(({ fromMs }) => fromMs);
    expect(spans(dead)).toEqual([0, 200, 400, 600, 800, 1000, 1200, 1400, 1600, 1800]);
    expect(spans({ ...dead, backoff: { afterTries: 2, factor: 2, maxMs: 400 } })).toEqual([0, 250, 550, 950, 1550]);
  });

  it('says what is wrong with what was given, and where', () => {
    expect(problem('schedule', { lines, requests: [{ ...request, line: 'x' }] })?.path).toEqual(['requests', 0, 'line']);
    expect(problem('schedule', { lines, requests: [request, request] })?.path).toEqual(['requests', 1, 'id']);
    expect(problem('schedule', { lines: [...lines, ...lines], requests: [] })?.path).toEqual(['lines', 1, 'id']);
    expect(problem('schedule', { lines, requests: [{ ...request, periodMs: 0 }] })?.path).toEqual(['requests', 0, 'periodMs']);
    expect(problem('schedule', { lines, requests: [{ ...request, periodMs: 0.01 }], horizonMs: 1e6 })?.path).toEqual(['horizonMs']);
  });
});

describe('plan', () => {
  it('takes points and gives the cheapest requests, with what they cost', () => {
    const points = [
      { id: 'a', table: 'holding', offset: 0, length: 2 },
      { id: 'b', table: 'holding', offset: 4, length: 1 },
      { id: 'c', table: 'coil', offset: 7, length: 1, write: true },
    ];
    expect(value('plan', { points })).toEqual({
      requests: [
        { functionCode: 3, table: 'holding', offset: 0, count: 5, points: ['a', 'b'] },
        { functionCode: 5, table: 'coil', offset: 7, count: 1, points: ['c'] },
      ],
      cost: 2.06,
      costUnmerged: 3.04,
      overlaps: [],
    });
    expect(value('plan', { points: points.slice(0, 2), limits: { readAcrossHoles: false }, cost: { perRequest: 5 } })).toEqual(
      jasmine.objectContaining({ cost: 10.03 }),
    );
  });

  it('says at its place what does not fit', () => {
    expect(problem('plan', { points: [{ id: 'a', table: 'holding', offset: 0, length: 0 }] })?.path).toEqual(['points', 0, 'length']);
    expect(problem('plan', { points: [{ id: 'a', table: 'holding', offset: 0, length: 200 }] })).toEqual({
      message: '“a” cannot be carried: it takes 200 holding registers; one request reads at most 125.',
      path: ['points', 0],
    });
    expect(problem('plan', { points: [], limits: { maxReadWords: 0 } })?.path).toEqual(['limits', 'maxReadWords']);
  });
});

describe('subnet', () => {
  it('tells who is in which network, and what is wrong', () => {
    const hosts = [
      { name: 'Controller', ip: '10.40.8.10', mask: '255.255.255.0' },
      { name: 'Meter', ip: '10.40.8.255', mask: '/24', gateway: '10.40.9.1' },
      { name: 'Far', ip: '10.40.9.5', mask: '24' },
    ];
    const result = reckon('subnet', { hosts });
    if (!result.ok) throw new Error(result.problem.message);
    const { networks, findings } = result.value as { networks: unknown[]; findings: { host: string; message: string }[] };
    expect(networks[0]).toEqual({
      cidr: '10.40.8.0/24',
      first: '10.40.8.1',
      last: '10.40.8.254',
      hosts: 254,
      members: ['Controller', 'Meter'],
      mask: '255.255.255.0',
      nextFree: '10.40.8.1',
    });
    expect(findings.map(({ host }) => host)).toEqual(['Meter', 'Meter', 'Controller', 'Far']);
  });
});

describe('ground-loop', () => {
  it('takes what is usual for what is left out', () => {
    const devices = [
      { name: 'A', atM: 0, shieldGrounded: true },
      { name: 'B', atM: 800, earthV: 6, shieldGrounded: true },
    ];
    const result = reckon('ground-loop', { devices });
    expect(result.ok && (result.value as { loops: { currentA: number }[] }).loops[0]!.currentA).toBeCloseTo(0.625, 4);
    expect(reckon('ground-loop', { devices: [] }).ok).toBeFalse();
  });
});

describe('the example of every reckoner', () => {
  for (const { name, example } of reckoners) {
    it(`${name} reckons`, () => {
      const result = reckon(name, example);
      expect(result.ok)
        .withContext(result.ok ? '' : result.problem.message)
        .toBeTrue();
    });
  }
});

describe('address', () => {
  it('gives every notation and what is typed into a package', () => {
    const { readings } = value('address', { text: '40108' }) as { readings: unknown[] };
    expect(readings[0]).toEqual(
      jasmine.objectContaining({
        table: 'holding',
        offset: 107,
        pdu: 107,
        number: 108,
        hex: '0x006B',
        reference5: '40108',
        reference6: '400108',
        entry: { asIs: 107, subtractsOne: 108 },
      }),
    );
    expect(readings[1]).toEqual(jasmine.objectContaining({ table: null, offset: 40_108, reference5: null, reference6: null }));
    expect(value('address', { text: '9999', table: 'input', notation: 'pdu' })).toEqual({
      readings: [jasmine.objectContaining({ reference5: null, reference6: '310000' })],
    } as never);
    expect(problem('address', { text: '40000' })).toEqual({
      message: jasmine.stringContaining('holding register 0') as never,
      path: ['text'],
    });
  });
});

describe('scale', () => {
  it('gives value, factor, offset and formula of a range', () => {
    expect(value('scale', { raw: [4000, 20_000], units: [-40, 120], at: 12_000 })).toEqual({
      value: 40,
      factor: 0.01,
      offset: -80,
      formula: 'value = raw × 0.01 − 80',
    });
  });
  it('counts the four edges of an encoder where they are counted', () => {
    const turn = { countsPerTurn: 1000, unitsPerTurn: 250, at: 2000 };
    expect(value('scale', turn)).toEqual(jasmine.objectContaining({ value: 500, factor: 0.25 }));
    expect(value('scale', { ...turn, quadrature: true })).toEqual(jasmine.objectContaining({ value: 125, factor: 0.0625 }));
    expect(problem('scale', { ...turn, countsPerTurn: 0 })?.path).toEqual(['countsPerTurn']);
    expect(problem('scale', { raw: [1, 1], units: [0, 1], at: 0 })).toEqual({ message: 'The raw range has no width.', path: ['raw'] });
  });
});

describe('stream and find-order', () => {
  it('take their examples', () => {
    const found = value('stream', { hex: '00 15 04 00 0A 00 02 52 DD 15 04 04 CC CD 42 76 B0 6C' }) as { frames: { answers: unknown }[] };
    expect(found.frames.map(({ answers }) => answers)).toEqual([null, 0]);
    expect(value('find-order', { words: [52_429, 17_014], expected: 61.7 })).toEqual({
      candidates: [jasmine.objectContaining({ type: 'float32', order: 'CDAB' })],
    } as never);
  });
});

describe('program', () => {
  it('runs a text scan by scan, sets and reads what reaches into blocks, and tells the way', () => {
    const text =
      'PROGRAM P VAR t1 : TON; a : ARRAY[1..2] OF LINT; b : BOOL; END_VAR t1(IN := b, PT := T#100ms); a[2] := a[2] + 1; END_PROGRAM';
    expect(value('program', { text, scans: 4, set: [{ scan: 2, name: 'b', value: true }], read: ['t1.ET', 'a[2]'] })).toEqual({
      ok: true,
      variables: { t1: { IN: true, PT: 100, Q: true, ET: 100 }, a: ['0', '4'], b: true, 't1.ET': 100, 'a[2]': '4' },
      trace: [0, 0, 50, 100].map((et, index) => ({ scan: index + 1, 't1.ET': et, 'a[2]': String(index + 1) })),
      problems: [],
    });
  });

  it('says what is wrong with a text, and in which scan a program stopped', () => {
    expect(value('program', { text: 'PROGRAM P x := 1; END_PROGRAM' })).toEqual({
      ok: false,
      variables: {},
      trace: [],
      problems: [{ line: 1, column: 11, message: 'There is no variable x.' }],
    });
    const text = 'PROGRAM P VAR n : INT := 2; END_VAR\nn := 6 / (n - 1);\nn := n - 6; END_PROGRAM';
    expect(value('program', { text: text.replace('n - 6', 'n - 5'), scans: 5 })).toEqual(
      jasmine.objectContaining({ ok: false, stoppedAtScan: 2, problems: [{ line: 2, column: 8, message: 'Division by zero.' }] }),
    );
    const busy = 'PROGRAM P VAR i : DINT; END_VAR FOR i := 1 TO 60000 DO ; END_FOR; END_PROGRAM';
    expect(value('program', { text: busy, scans: 100_000 })).toEqual(
      jasmine.objectContaining({ ok: false, stoppedAtScan: jasmine.any(Number) }),
    );
  });

  it('refuses names that are not there and values that do not fit', () => {
    const text = 'PROGRAM P VAR speed : INT; END_VAR END_PROGRAM';
    expect(problem('program', { text, read: ['sped'] })).toEqual({
      message: 'There is no variable sped. Did you mean speed?',
      path: ['read', 0],
    });
    expect(problem('program', { text, set: [{ scan: 1, name: 'speed', value: 40_000 }] })).toEqual({
      message: 'speed: INT takes -32768 to 32767.',
      path: ['set', 0],
    });
    expect(problem('program', { text, read: ['speed.x'] })?.message).toContain('INT has no parts');
  });
});

describe('telegram and text-stream', () => {
  const telegram = { end: ['0D'], fields: [{ name: 'weight', at: { from: 0, length: 5 }, kind: 'integer' }] };

  it('read, build and cut, and say at its place what does not fit', () => {
    expect(value('telegram', { telegram, text: '  184' })).toEqual({
      ok: true,
      fields: [{ name: 'weight', from: 0, to: 4, raw: '  184', value: 184 }],
      problems: [],
      sentence: 'weight 184.',
    });
    expect(value('telegram', { telegram, hex: '20 20 31 38 34' })).toEqual(
      jasmine.objectContaining({ ok: false, problems: ['It does not end with 0D.'] }),
    );
    expect(value('telegram', { telegram, values: { weight: 7 } })).toEqual({ hex: '20 20 20 20 37 0D', text: '    7' });
    expect(problem('telegram', { telegram, values: { weight: 123_456 } })).toEqual({
      message: 'weight is “123456”, which has 6 characters; there is room for 5.',
      path: ['values', 'weight'],
    });
    expect(problem('telegram', { telegram })?.message).toBe('Give one of text, hex and values.');
    expect(value('text-stream', { telegram, hex: '20 20 31 38 34 0D 31' })).toEqual({
      telegrams: [jasmine.objectContaining({ from: 0, to: 5, ok: true })],
      rest: [{ from: 6, to: 6, why: 'it did not come to its end' }],
    });
  });
});

describe('find-telegram', () => {
  it('takes lines as they are pasted, with marks written out or not, and bytes', () => {
    const ends = (input: object) => (value('find-telegram', input) as { telegram: { end: string[] }; fits: number }).telegram.end;
    expect(ends({ text: '12;ok\n13;ok\n' })).toEqual(['0D']);
    expect(ends({ text: '<STX>12;ok<ETX>\n<STX>13;ok<ETX>' })).toEqual(['03']);
    expect(ends({ hex: '31 32 0D 0A 31 33 0D 0A' })).toEqual(['0D 0A']);
    expect(problem('find-telegram', { text: '12;€' })).toEqual({
      message: jasmine.stringContaining('no single byte') as never,
      path: ['text'],
    });
    expect(problem('find-telegram', {})?.message).toBe('Give either text or hex.');
  });
});

describe('image', () => {
  const windows = [
    { side: 'A', table: 'holding', offset: 9998, byte: 0, bytes: 4, order: 'high-first' },
    { side: 'B', byte: 2, bytes: 2, order: 'low-first' },
  ];

  it('tells a place as every side calls it, and null where one does not reach it', () => {
    expect(value('image', { windows, at: { side: 'A', register: 9998, bit: 3 } })).toEqual({
      byte: 1,
      bit: 3,
      places: [
        { side: 'A', byte: 1, word: 0, register: 9998, bit: 3, reference5: '49999', reference6: '409999' },
        { side: 'B', byte: null, word: null, register: null, bit: null, reference5: null, reference6: null },
      ],
    });
    const { places } = value('image', { windows, at: { side: 'B', byte: 0 } }) as { places: object[] };
    expect(places[0]).toEqual({ side: 'A', byte: 2, word: 1, register: 9999, bit: null, reference5: null, reference6: '410000' });
    expect(problem('image', { windows, at: { side: 'A', register: 1 } })?.path).toEqual(['at', 'register']);
    expect(problem('image', { windows, at: { side: 'A' } })?.message).toBe('Give either a register or a byte.');
  });
});

describe('can-frame', () => {
  const position = { name: 'position', firstBit: 0, bits: 16, order: 'little', factor: 0.1 };
  const frame = { identifierBits: 29, identifier: 0x18ff1003, signals: [position] };

  it('reads what was received, and makes what is to be sent', () => {
    expect(value('can-frame', { ...frame, data: '7D01' })).toEqual({ values: { position: 38.1 }, data: '7D 01', problems: [] });
    expect(value('can-frame', { ...frame, values: { position: 38.14 } })).toEqual({
      values: { position: 38.1 },
      data: '7D 01',
      problems: [],
    });
    expect(value('can-frame', { ...frame, data: '' })).toEqual({
      ...{ values: { position: null }, data: '' },
      problems: ['position reaches bit 15 (byte 1, bit 7), and the frame has no byte.'],
    });
  });

  it('tells signals that overlap, and refuses what is no frame', () => {
    const twice = { ...frame, signals: [position, { ...position, name: 'speed', firstBit: 12 }], data: '7D 01 00 00' };
    expect((value('can-frame', twice) as { problems: string[] }).problems).toEqual(['position and speed share bit 12 (byte 1, bit 4).']);
    expect(problem('can-frame', { ...frame, identifierBits: 11, data: '' })).toEqual({
      ...{ message: '18FF1003 has more than 11 bits: they end at 7FF.', path: ['identifier'] },
    });
    expect(problem('can-frame', frame)?.message).toBe('Give one of data and values.');
    expect(problem('can-frame', { ...frame, data: '00 '.repeat(9) })?.message).toBe('A frame has 8 bytes at most; these are 9.');
    expect(problem('can-frame', { ...frame, data: 'xy' })?.path).toEqual(['data']);
    expect(problem('can-frame', { ...frame, signals: [{ ...position, bits: 0 }], data: '' })?.path).toEqual(['signals', 0, 'bits']);
  });
});

describe('can-time', () => {
  const frame = (id: string, identifier: number) => ({ id, identifierBits: 11, identifier, bytes: 8, periodMs: 10 });

  it('says how full a bus is and when each frame is through at worst', () => {
    expect(value('can-time', { bitrate: 500_000, frames: [frame('b', 2), frame('a', 1)] })).toEqual({
      load: jasmine.any(Number),
      frames: [
        { id: 'b', bits: 111, worstBits: 135, worstMs: 0.27, worstResponseMs: 0.54 },
        { id: 'a', bits: 111, worstBits: 135, worstMs: 0.27, worstResponseMs: 0.54 },
      ],
    });
  });

  it('refuses an identifier that is used twice, or has too many bits', () => {
    expect(problem('can-time', { bitrate: 500_000, frames: [frame('a', 1), frame('b', 1)] })).toEqual({
      ...{ message: 'a and b have the same identifier, which only one may send.', path: ['frames', 1, 'identifier'] },
    });
    expect(problem('can-time', { bitrate: 500_000, frames: [frame('a', 0x800)] })?.path).toEqual(['frames', 0, 'identifier']);
    expect(problem('can-time', { bitrate: 500_000, frames: [] })?.message).toBe('At least one frame.');
  });
});

describe('can-log', () => {
  const log = (line: (index: number) => string) => Array.from({ length: 40 }, (_, index) => line(index)).join('\n');
  const hex = (value: number) => value.toString(16).padStart(2, '0');

  it('says of each identifier how often it comes, and which signals it likely has', () => {
    const text = log((index) => `(${(index / 10).toFixed(3)}) can0 123#${hex(index)}${hex((90 * index) >> 8)}${hex((90 * index) & 255)}`);
    const { frames, identifiers, signals, problems } = value('can-log', { text: `${text}\nhello` }) as Record<string, object[]>;
    expect([frames as unknown, problems]).toEqual([40, [{ line: 41, message: 'It is not of the form (time) interface identifier#data.' }]]);
    expect(identifiers).toEqual([
      jasmine.objectContaining({
        identifier: '123',
        count: 40,
        periodMs: 100,
        jitterMs: 0,
        bytes: '3',
        data: '27 0D B6',
        on: 'can0',
        remote: 0,
      }),
    ]);
    expect(signals).toEqual([
      jasmine.objectContaining({ identifier: '123', kind: 'counter', firstBit: 0, bits: 8 }),
      jasmine.objectContaining({ identifier: '123', kind: 'number', firstBit: 15, bits: 16, order: 'big', signed: false }),
    ]);
  });

  it('takes CSV by its head, and refuses what holds no frame', () => {
    const csv = value('can-log', { text: 'time,identifier,bits,data\n0.5,18FF1003,29,01 02\n' }) as {
      identifiers: { identifier: string }[];
    };
    expect(csv.identifiers.map(({ identifier }) => identifier)).toEqual(['18FF1003']);
    expect(problem('can-log', { text: '' })).toEqual({ message: 'There is no frame in it.', path: ['text'] });
    expect(problem('can-log', { text: 'hello' })?.message).toBe('Line 1: It is not of the form (time) interface identifier#data.');
  });
});

describe('frames of telecontrol', () => {
  it('are explained octet by octet, and hex that is none is refused', () => {
    for (const [name, says] of [
      ['iec104-frame', 'Station 12: double point, spontaneous: 101 on.'],
      ['ieee1815-frame', 'Station 1 to 12: reads events of class 1; events of class 2.'],
    ] as const) {
      const { example } = reckoners.find((one) => one.name === name)!;
      const read = value(name, example) as { ok: boolean; sentence: string; problems: string[] };
      expect([read.ok, read.sentence, read.problems]).toEqual([true, says, []]);
      expect(problem(name, { hex: 'zz' })?.path).toEqual(['hex']);
    }
  });
});
