import { formatSettings, type SerialSettings } from '@plain-envoy/core/line';
import type { ProveEvent } from '@plain-envoy/core/feed';
import type { ClientTransport } from '../links/index.js';
import { probe } from './probe.js';

export interface SettingsSearch {
  unit: number;
  candidates: readonly SerialSettings[];
  timeoutMs: number;
  open(settings: SerialSettings): ClientTransport;
}

/** Asks a unit with one set of settings after another, likely ones first, and says which gave a valid frame. */
export async function* searchSettings({ unit, candidates, timeoutMs, open }: SettingsSearch): AsyncGenerator<ProveEvent> {
  yield { kind: 'forecast', worstMs: candidates.length * timeoutMs, total: candidates.length, pauses: false };
  const from = performance.now();
  let found = 0;
  for (const [index, settings] of candidates.entries()) {
    const transport = open(settings);
    try {
      const presence = await probe(transport, unit, timeoutMs);
      if (presence.kind === 'no way') {
        yield { kind: 'failed', sentence: presence.why };
        return;
      }
      if (presence.kind !== 'silent') {
        const valid = presence.kind === 'answers';
        found += valid ? 1 : 0;
        const sentence = valid ? `Unit ${unit} ${presence.how}.` : 'Something came, but no valid frame.';
        yield { kind: 'settings', settings, text: formatSettings(settings), valid, sentence };
      }
    } finally {
      transport.close();
    }
    yield { kind: 'progress', done: index + 1, total: candidates.length };
  }
  yield { kind: 'done', found, tookMs: Math.round(performance.now() - from) };
}
