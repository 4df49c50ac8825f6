import { formatAddress, type Place } from '@plain-envoy/core/address';
import { type Line, type Port, mediumOf } from '@plain-envoy/core/media';
import { Device } from '@plain-envoy/core/model';

/** `W40`, `30011`: a place as the papers of its device write it. */
export function addressOf(place: Place, device: Device | undefined): string {
  return formatAddress(place, device?.notation ?? 'pdu', device?.areas);
}

/** `0.4 s`, `12 s`, `3 min`: how long ago. */
export function ageText(atMs: number | null | undefined, nowMs: number): string {
  if (atMs === null || atMs === undefined) return '';
  const age = Math.max(0, nowMs - atMs);
  if (age < 10_000) return `${(age / 1000).toFixed(1)} s`;
  return age < 120_000 ? `${Math.round(age / 1000)} s` : `${Math.round(age / 60_000)} min`;
}

/** `14:05:09`, by this machine's clock. */
export function timeText(atMs: number): string {
  return new Date(atMs).toLocaleTimeString('en-GB');
}

/** `14:05:09.250` */
export function clockText(atMs: number): string {
  return `${timeText(atMs)}.${String(new Date(atMs).getMilliseconds()).padStart(3, '0')}`;
}

/** `340 kB`, `2.4 MB`. */
export function sizeText(bytes: number): string {
  return bytes < 1_000_000 ? `${Math.max(1, Math.round(bytes / 1000))} kB` : `${(bytes / 1_000_000).toFixed(1)} MB`;
}

export function msText(ms: number | null | undefined): string {
  return ms === null || ms === undefined ? '' : ms < 10 ? ms.toFixed(1) : String(Math.round(ms));
}

export function lineText(line: Line): string {
  return mediumOf(line.kind).describeLine(line);
}

/** Where a device is found on its line: its address, or its unit ID. */
export function portText(port: Port): string {
  return mediumOf(port.kind).describePort(port);
}

/** How a port is set on its device. */
export function setText(port: Port): string {
  return mediumOf(port.kind).describeSettings(port);
}

const moment = new Intl.DateTimeFormat('en-GB', {
  ...{ day: '2-digit', month: 'short', hour: '2-digit', minute: '2-digit', second: '2-digit', hourCycle: 'h23' },
  ...{ fractionalSecondDigits: 3, timeZoneName: 'short' },
});

/** `29 Nov, 14:05:09.250 CET`: by this machine’s clock, with its zone. */
export function momentText(atMs: number): string {
  return moment.format(atMs);
}

/** `28 Nov 2026 14:05`. */
export function dateText(atMs: number): string {
  const date = new Date(atMs);
  return `${date.toLocaleDateString('en-GB', { day: 'numeric', month: 'short', year: 'numeric' })} ${timeText(atMs).slice(0, 5)}`;
}

/** How much of it is done, 0 to 100; nothing where that is not known. */
export function percentOf(progress: { done: number; total: number } | null | undefined): number {
  return progress?.total ? (100 * progress.done) / progress.total : 0;
}
