import { framingOf, functionOf, type ModbusFraming } from '../frame/index.js';
import { characterBits, characterMs, pauseMs, type SerialSettings, silenceMs } from './character.js';

export interface Transaction {
  settings: SerialSettings;
  framing: ModbusFraming;
  /** One of `functions`. */
  functionCode: number;
  /** Registers or bits, at least 1; for an exchange (function 23), those that it writes. */
  count: number;
  /** Registers that an exchange reads. */
  alsoCount?: number;
  /** How long the device takes before it answers. */
  responseDelayMs?: number;
  /** A pause that the one who asks adds before its next request. */
  turnaroundMs?: number;
}

/** After what nobody answers: how long the devices have to take it, where nothing else is known (V1.02, 2.4.1: 100 to 200 ms). */
export const USUAL_TURNAROUND_MS = 100;

export interface LineTime {
  characterBits: number;
  characterMs: number;
  t15Ms: number;
  t35Ms: number;
  requestBytes: number;
  responseBytes: number;
  requestMs: number;
  responseMs: number;
  totalMs: number;
  perSecond: number;
}

/**
 * How long one transaction holds a serial line: request, the device's delay, response and, in RTU, the silence after each
 * frame (Modbus over serial line V1.02, 2.5). ASCII frames end with CR LF and need no silence. Bytes are characters on the line.
 */
export function lineTime({
  settings,
  framing,
  functionCode,
  count,
  alsoCount = 1,
  responseDelayMs = 0,
  turnaroundMs = 0,
}: Transaction): LineTime {
  const character = characterMs(settings);
  const { request, response } = pduBytes(functionCode, count, alsoCount);
  const { frameBytes, hasSilence } = framingOf(framing);
  const requestBytes = frameBytes(request);
  const responseBytes = frameBytes(response);
  const silence = hasSilence ? silenceMs(settings) : 0;
  const totalMs = (requestBytes + responseBytes) * character + 2 * silence + responseDelayMs + turnaroundMs;
  return {
    characterBits: characterBits(settings),
    characterMs: character,
    t15Ms: pauseMs(settings),
    t35Ms: silenceMs(settings),
    requestBytes,
    responseBytes,
    requestMs: requestBytes * character,
    responseMs: responseBytes * character,
    totalMs,
    perSecond: 1000 / totalMs,
  };
}

/** How long a device that stays silent holds the line: the request, then the whole timeout. */
export function silentTimeMs(settings: SerialSettings, framing: ModbusFraming, timeoutMs: number): number {
  return framingOf(framing).frameBytes(5) * characterMs(settings) + timeoutMs;
}

function pduBytes(functionCode: number, count: number, alsoCount: number): { request: number; response: number } {
  const known = functionOf(functionCode)!;
  const data = known.bits ? Math.ceil(count / 8) : count * 2;
  if (known.kind === 'read') return { request: 5, response: 2 + data };
  if (known.kind === 'write-one') return { request: 5, response: 5 };
  if (known.kind === 'mask') return { request: 7, response: 7 };
  if (known.kind === 'exchange') return { request: 10 + data, response: 2 + alsoCount * 2 };
  return { request: 6 + data, response: 5 };
}
