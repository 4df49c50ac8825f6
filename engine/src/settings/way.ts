import type { HandWrite } from '@plain-envoy/core/compile';
import type { Endpoint } from '@plain-envoy/core/plan';
import { ask, type RequestResult } from '../client/index.js';
import { type ClientTransport, failed } from '../links/index.js';
import { writePieces } from '../runner/index.js';

/** How single requests reach a device: among all that the bench does, or over a connection of their own. Neither rejects. */
export interface RequestWay {
  read(read: Omit<HandWrite, 'masks'>): Promise<RequestResult>;
  write(write: HandWrite, words: readonly number[]): Promise<RequestResult>;
  close(): void;
}

/** Over a connection of its own, opened when it is first needed. */
export function ownWay(open: (endpoint: Endpoint) => ClientTransport): RequestWay {
  let transport: ClientTransport | null = null;
  const asking = ({ request, endpoint }: Omit<HandWrite, 'masks'>, part: Parameters<Parameters<typeof writePieces>[2]>[0]) => {
    transport ??= open(endpoint);
    const { unitId, timeoutMs, tries } = request;
    return ask(transport, { ...part, unitId, timeoutMs, tries });
  };
  return {
    read: (read) => {
      const { functionCode, offset, count } = read.request;
      return asking(read, { functionCode, offset, count });
    },
    write: async (write, words) => {
      const { table, offset } = write.request;
      const piece = { table, offset, words, masks: write.masks, written: () => undefined, failed: () => undefined };
      let outcome: RequestResult = failed({ code: 'not-running' });
      await writePieces(write.request, [piece], async (part) => (outcome = await asking(write, part)));
      return outcome;
    },
    close: () => transport?.close(),
  };
}
