import { characterBits, formatSettings, standards } from '../line/index.js';
import type { SerialLine, SerialPort } from '../model/index.js';
import { type Finding, fixOf } from './finding.js';
import type { Member, SerialBus } from './bus.js';

/** Checks of what both ends of a serial line must agree on: settings, unit IDs, who asks, and who transmits to whom. */
export function checkSerial(bus: SerialBus): Finding[] {
  return [...settingsDiffer(bus), ...character(bus), ...units(bus), ...passes(bus), ...askers(bus), ...loads(bus), ...pointToPoint(bus)];
}

const words: Partial<Record<keyof SerialPort, string>> = {
  baud: 'baud',
  dataBits: 'data bits',
  parity: 'parity',
  stopBits: 'stop bits',
  framing: 'framing',
  levels: 'levels',
  duplex: 'duplex',
};

/** What a port must share with its line. The line's standard tells levels and duplex. */
export function expectedOf(
  line: SerialLine,
): Pick<SerialPort, 'baud' | 'dataBits' | 'parity' | 'stopBits' | 'framing' | 'levels' | 'duplex'> {
  const { baud, dataBits, parity, stopBits, framing, standard } = line;
  const { levels, duplex } = standards[standard];
  return { baud, dataBits, parity, stopBits, framing, levels, duplex };
}

function settingsDiffer(bus: SerialBus): Finding[] {
  const expected = expectedOf(bus.line);
  const fields = Object.keys(expected) as (keyof typeof expected)[];
  return bus.members.flatMap(({ name, port }): Finding[] => {
    const wrong = fields.filter((field) => port[field] !== expected[field]);
    if (wrong.length === 0) return [];
    const differs = wrong.map((field) => `${words[field]} ${String(port[field])} instead of ${String(expected[field])}`).join(', ');
    return [
      {
        severity: wrong.length === 1 && wrong[0] === 'stopBits' ? 'warning' : 'stop',
        check: 'settings-differ',
        message: `${name} is set to ${formatSettings(port)}, ${bus.line.name} runs at ${formatSettings(bus.line)}: ${differs}.`,
        mend: `Set ${name} as the line is, or the line and all others as it is.`,
        fix: fixOf(`Set ${name} as the line is`, 'port', port, expected),
        at: { entity: 'port', id: port.id, field: wrong[0]! },
      },
    ];
  });
}

function character({ line }: SerialBus): Finding[] {
  const about = (check: string, severity: Finding['severity'], message: string, mend: string, field: string): Finding[] => [
    { severity, check, message, mend, at: { entity: 'line', id: line.id, field } },
  ];
  if (line.framing === 'rtu' && line.dataBits === 7) {
    const why = `${line.name} carries RTU with 7 data bits: half of every byte’s values would be lost.`;
    return about('rtu-seven-bits', 'stop', why, 'Set 8 data bits.', 'dataBits');
  }
  const bits = characterBits(line);
  const standard = line.framing === 'rtu' ? 11 : line.framing === 'ascii' ? 10 : null;
  if (standard !== null && bits !== standard) {
    const why = `A character on ${line.name} has ${bits} bits; the standard has ${standard} for ${line.framing.toUpperCase()}.`;
    return about(
      'character-length',
      'advice',
      `${why} Many devices take it all the same.`,
      'Without parity the standard asks for two stop bits.',
      'stopBits',
    );
  }
  return [];
}

function units({ line, members }: SerialBus): Finding[] {
  if (line.framing === 'text') return [];
  const seen = new Map<number, Member>();
  return members.flatMap((member): Finding[] => {
    const { name, port } = member;
    if (port.unitId === null) return [];
    const at = { entity: 'port', id: port.id, field: 'unitId' } as const;
    if (port.unitId < 1 || port.unitId > 247) {
      const what = port.unitId === 0 ? '0 is broadcast, which nobody answers' : '248 to 255 are reserved by the standard';
      return [
        {
          severity: 'stop',
          check: 'unit-range',
          message: `${name} has unit ID ${port.unitId}. Unit IDs on a serial line are 1 to 247; ${what}.`,
          mend: 'Set a free unit ID from 1 to 247.',
          at,
        },
      ];
    }
    const other = seen.get(port.unitId);
    if (!other) {
      seen.set(port.unitId, member);
      return [];
    }
    return [
      {
        severity: 'stop',
        check: 'unit-twice',
        message: `${other.name} and ${name} both have unit ID ${port.unitId} on ${line.name}: both answer at once and damage each other’s frames.`,
        mend: `Set another unit ID on one of them${free(members)}.`,
        at,
      },
    ];
  });
}

/** A gateway that passes only some unit IDs on answers for the others itself, that it has no way to them (exception 10). */
function passes({ line, members }: SerialBus): Finding[] {
  const gateway = members.find(({ port }) => port.unitId === null && port.passes.length > 0);
  if (!gateway || line.framing === 'text') return [];
  const spans = gateway.port.passes;
  const known = spans.map(({ first, last }) => (first === last ? String(first) : `${first} to ${last}`)).join(', ');
  return members.flatMap(({ name, port }): Finding[] => {
    const unit = port.unitId;
    if (unit === null || spans.some(({ first, last }) => unit >= first && unit <= last)) return [];
    return [
      {
        severity: 'stop',
        check: 'unit-not-passed',
        message: `${gateway.name} passes units ${known} on to ${line.name}; ${name} has unit ${unit}, so it is never asked.`,
        mend: `Let ${gateway.name} pass unit ${unit} on as well, or give ${name} one of those.`,
        fix: fixOf(`Pass unit ${unit} on`, 'port', gateway.port, { passes: [...spans, { first: unit, last: unit }] }),
        at: { entity: 'port', id: gateway.port.id, field: 'passes' },
      },
    ];
  });
}

function free(members: readonly Member[]): string {
  const used = new Set(members.map(({ port }) => port.unitId));
  for (let unit = 1; unit <= 247; unit++) if (!used.has(unit)) return `; ${unit} is free`;
  return '';
}

function askers({ line, members }: SerialBus): Finding[] {
  if (line.framing === 'text' || members.length < 2) return [];
  const asking = members.filter(({ port }) => port.unitId === null);
  const about = (check: string, message: string, mend: string): Finding[] => [
    { severity: 'stop', check, message, mend, at: { entity: 'line', id: line.id } },
  ];
  if (asking.length === 0 && !line.boundTo) {
    const why = `Everyone on ${line.name} waits to be asked, and nobody asks.`;
    return about('only-waiting', why, 'Make one device the one that asks: a controller, a gateway, or a port of this machine.');
  }
  if (asking.length > 1) {
    const names = asking.map(({ name }) => name).join(' and ');
    const why = `${names} both ask on ${line.name}: on a serial line only one may, or their frames collide.`;
    return about('two-ask', why, 'Let one ask, and give the other a unit ID so that it answers.');
  }
  return [];
}

function loads({ line, members }: SerialBus): Finding[] {
  const { mostDevices, name } = standards[line.standard];
  if (line.standard === 'rs232') return [];
  const sum = members.reduce((total, { port }) => total + port.unitLoads, 0);
  const weakest = [...members].sort((a, b) => a.port.driverLoads - b.port.driverLoads)[0];
  const most = Math.min(mostDevices, weakest?.port.driverLoads ?? mostDevices);
  if (sum <= most || line.cable.repeatersAtM.length > 0) return [];
  return [
    {
      severity: 'warning',
      check: 'unit-loads',
      message: `The devices on ${line.name} are ${round(sum)} unit loads; ${name} drives ${most} without a repeater.`,
      mend: 'Put a repeater in, split the line, or take devices with a quarter or an eighth of a unit load.',
      at: { entity: 'line', id: line.id },
    },
  ];
}

function pointToPoint({ line, members }: SerialBus): Finding[] {
  if (line.standard !== 'rs232') return [];
  const found: Finding[] = [];
  const at = { entity: 'line', id: line.id } as const;
  if (members.length > 2) {
    found.push({
      severity: 'stop',
      check: 'rs232-parties',
      message: `${members.length} devices are on ${line.name}; RS-232 joins two.`,
      mend: 'Use RS-485 for more than two, or a line for each pair.',
      at,
    });
  }
  const [a, b] = members;
  if (a && b && members.length === 2) {
    const crossed = line.cable.crossing === 'crossed';
    if ((a.port.plug === b.port.plug) !== crossed) {
      const kinds = `${a.name} is ${a.port.plug.toUpperCase()}, ${b.name} is ${b.port.plug.toUpperCase()}, and the cable is ${line.cable.crossing}`;
      found.push({
        severity: 'stop',
        check: 'transmit-on-transmit',
        message: `On ${line.name} transmit meets transmit: ${kinds}.`,
        mend: `Use a ${crossed ? 'straight' : 'crossed'} cable.`,
        at: { ...at, field: 'crossing' },
      });
    }
    if (a.port.handshake !== b.port.handshake) {
      found.push({
        severity: 'stop',
        check: 'handshake-differs',
        message: `${a.name} uses the handshake ${a.port.handshake}, ${b.name} ${b.port.handshake}: one waits for a line that the other never moves.`,
        mend: 'Set the same handshake on both.',
        at: { entity: 'port', id: b.port.id, field: 'handshake' },
      });
    }
  }
  return found;
}

function round(number: number): string {
  return String(Math.round(number * 100) / 100);
}
