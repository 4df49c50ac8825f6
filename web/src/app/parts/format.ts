import { formatAddress, type Place } from '@plain-envoy/core/address';
import { formatSettings, standards } from '@plain-envoy/core/line';
import type { Device, Line, Port } from '@plain-envoy/core/model';
import { wordOf } from './words';

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
