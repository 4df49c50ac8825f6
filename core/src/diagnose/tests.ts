import type { Change, Device } from '../model/index.js';
import { type Case, ethernetPortOf } from './case.js';

/** What a person does to tell two causes apart, as one action: an edit that is undone like any other, or the way to where it is asked. */
export interface TellingTest {
  label: string;
  action: { kind: 'edit'; label: string; changes: Change[] } | { kind: 'go'; path: string; query: Record<string, string> };
}

/** So many times as long is waited, to see whether answers come late. */
const PATIENCE = 4;
const LONGEST_MS = 60_000;

function waitLonger(waits: Device): TellingTest {
  const after = { ...waits, timeoutMs: Math.min(LONGEST_MS, waits.timeoutMs * PATIENCE) };
  const label = `Wait ${after.timeoutMs} ms for ${waits.name}`;
  return { label, action: { kind: 'edit', label, changes: [{ entity: 'device', id: waits.id, before: waits, after }] } };
}

function onItsLine(of: Case): Record<string, string> {
  const { port, document, gateway, medium } = of;
  const own =
    medium === 'line' ? port : document.ports.find((row) => row.kind === 'ethernet' && row.deviceId === (gateway ?? of.device).id);
  return { ...(own ? { line: own.lineId } : {}), tab: 'prove' };
}

/** Null where it cannot be done here. */
export const tests = {
  walk: (of: Case): TellingTest | null => ({
    label: `Walk to ${of.subject.name}, step by step`,
    action: { kind: 'go', path: '/lines', query: { ...onItsLine(of), device: of.subject.id } },
  }),
  slower: (of: Case): TellingTest | null => waitLonger(of.gateway && of.medium === 'line' ? of.gateway : of.subject),
  'one at a time': (of: Case): TellingTest | null => {
    const port = ethernetPortOf(of);
    if (!port || port.openTransactions === 1) return null;
    const label = `Ask ${of.subject.name} one question at a time`;
    return {
      label,
      action: { kind: 'edit', label, changes: [{ entity: 'port', id: port.id, before: port, after: { ...port, openTransactions: 1 } }] },
    };
  },
  'ask others': (of: Case): TellingTest | null =>
    of.medium === 'line' ? { label: 'Sweep the unit IDs of its line', action: { kind: 'go', path: '/lines', query: onItsLine(of) } } : null,
  'without gateway': (of: Case): TellingTest | null =>
    of.gateway && of.medium === 'line'
      ? {
          label: `Ask ${of.device.name} on the line itself, without ${of.gateway.name}`,
          action: { kind: 'go', path: '/lines', query: onItsLine(of) },
        }
      : null,
  listen: (of: Case): TellingTest | null => ({
    label: `Look at the bytes of ${of.device.name}`,
    action: { kind: 'go', path: '/trace', query: { device: of.device.id } },
  }),
} as const;
export type TestId = keyof typeof tests;
