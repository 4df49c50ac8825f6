import { formatAddress, type Place } from '@plain-envoy/core/address';
import { formatSettings, standards } from '@plain-envoy/core/line';
import { type Device, type Line, type Point, pointLayout, type Port, readPoint } from '@plain-envoy/core/model';
import { wordOf } from './words';
import { encode, type Outcome, type Value } from '@plain-envoy/core/value';

/** `W40`, `30011`: a place as the papers of its device write it. */
export function addressOf(place: Place, device: Device | undefined): string {
  return formatAddress(place, device?.notation ?? 'pdu', device?.areas);
}

/** Registers as hex words, a bit as 0 or 1. */
export function rawText(words: readonly number[] | null | undefined, point: Point): string {
  if (!words) return '';
  if (point.type === 'bit' && point.bit === null) return String(words[0] ?? '');
  return words.map((word) => word.toString(16).toUpperCase().padStart(4, '0')).join(' ');
}

/** The value in its unit; registers that make no sense as this type are said so. */
export function valueText(words: readonly number[] | null | undefined, point: Point): string {
  if (!words) return '';
  const decoded = readPoint(words, point);
  if (!decoded.ok) return 'not readable';
  if (point.type === 'bit') return decoded.value.value ? 'on' : 'off';
  const code = point.codes.find(({ value }) => value === Number(decoded.value.raw));
  if (code) return code.name;
  const text = plain(decoded.value.value, point);
  return point.unit && point.type !== 'bits' ? `${text} ${point.unit}` : text;
}

function plain(value: Value, point: Point): string {
  if (Array.isArray(value)) {
    const names = value.map((bit) => point.bits.find((known) => known.bit === bit)?.name ?? `bit ${bit}`);
    return names.length ? names.join(', ') : 'no bit';
  }
  if (typeof value === 'string') return value;
  const digits = point.type === 'float32' ? 6 : 12;
  const rounded = Number(value.toPrecision(digits));
  if (point.scale && 'factor' in point.scale && point.scale.factor < 1) {
    return rounded.toFixed(Math.min(6, Math.ceil(-Math.log10(point.scale.factor))));
  }
  return String(rounded);
}

/** What a person typed, as the registers that hold it: `on` and `off` for bits, a list of bit numbers for bit words. */
export function wordsFromInput(text: string, point: Point): Outcome<number[]> {
  const typed = text.trim();
  const layout = pointLayout(point);
  if (!layout) {
    if (/^(on|1|true)$/i.test(typed)) return { ok: true, value: [1] };
    if (/^(off|0|false)$/i.test(typed)) return { ok: true, value: [0] };
    return { ok: false, problem: { message: `“${typed}” is neither on nor off.`, path: ['value'] } };
  }
  const encoded = encode(inputValue(typed, point), layout);
  return encoded.ok ? { ok: true, value: encoded.value.words } : encoded;
}

function inputValue(typed: string, point: Point): Value {
  if (point.type !== 'bits') return point.type === 'string' ? typed : typed.replace(',', '.');
  const hex = /^0x([0-9a-f]+)$/i.exec(typed);
  if (hex) return String(parseInt(hex[1]!, 16));
  if (/^bits?\s/i.test(typed)) return typed.split(/\D+/).filter(Boolean).map(Number);
  return typed;
}

/** `0.4 s`, `12 s`, `3 min`: how long ago. */
export function ageText(atMs: number | null | undefined, nowMs: number): string {
  if (atMs === null || atMs === undefined) return '';
  const age = Math.max(0, nowMs - atMs);
  if (age < 10_000) return `${(age / 1000).toFixed(1)} s`;
  return age < 120_000 ? `${Math.round(age / 1000)} s` : `${Math.round(age / 60_000)} min`;
}

export function msText(ms: number | null | undefined): string {
  return ms === null || ms === undefined ? '' : ms < 10 ? ms.toFixed(1) : String(Math.round(ms));
}

export function lineText(line: Line): string {
  switch (line.kind) {
    case 'ethernet':
      return `Ethernet ${line.network}`;
    case 'serial':
      return `${standards[line.standard].name} · ${formatSettings(line)} ${wordOf(line.framing)} · ${line.lengthM} m`;
    case 'can':
      return `CAN ${line.bitrate / 1000} kbit/s · ${line.identifierBits}-bit identifiers`;
    case 'telecontrol':
      return `Telecontrol, ${wordOf(line.standard)}`;
  }
}

/** Where a device is found on its line: its address, or its unit ID. */
export function portText(port: Port): string {
  switch (port.kind) {
    case 'ethernet':
      return port.ip;
    case 'serial':
      return port.unitId !== null ? `unit ${port.unitId}` : port.framing === 'text' ? 'text' : 'asks';
    case 'can':
      return 'CAN';
    case 'telecontrol':
      return `${port.role} · ${port.address}`;
  }
}

/** How a port is set on its device. */
export function setText(port: Port): string {
  switch (port.kind) {
    case 'ethernet':
      return `${port.ip} ${port.mask} port ${port.tcpPort}`;
    case 'serial':
      return formatSettings(port);
    case 'can':
      return `${port.bitrate / 1000} kbit/s`;
    case 'telecontrol':
      return `address ${port.address}`;
  }
}
