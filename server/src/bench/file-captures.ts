import { matcher, type Peer, PcapngWriter, type TraceFilter, type TraceEntry } from '@plain-envoy/core/trace';
import { v7 as newId } from 'uuid';
import { refuse } from '../problem/index.js';

/** So often what has come is passed on, and so much at once at most. */
const LOOK_MS = 500;
const MAX_AT_ONCE = 20_000;
/** Whoever asked for a file fetches it at once. */
const FETCHED_WITHIN_MS = 30_000;

/** The exchanges that came after a number; null where the bench does not run any more. */
export type Since = (after: number | null, count: number) => Promise<{ last: number; records: TraceEntry[] } | null>;

interface FileCapture {
  filter: TraceFilter;
  peerOf: (endpointId: string) => Peer | null;
  tell: (entry: TraceEntry) => { sentence: string };
  since: Since;
  exchanges: number;
  isFetched: boolean;
  /** Ends the wait for what comes next. */
  wake: () => void;
}

/** Captures that go to a file while they come: each is a stream, until a person ends it, the bench stops, or nobody takes it any more. */
export class FileCaptures {
  private readonly open = new Map<string, FileCapture>();

  /** Each that goes on, with how many exchanges are in it. */
  list(): { id: string; exchanges: number }[] {
    return [...this.open].map(([id, { exchanges }]) => ({ id, exchanges }));
  }

  begin({ filter, peerOf, tell, since }: Pick<FileCapture, 'filter' | 'peerOf' | 'tell' | 'since'>): { id: string } {
    const id = newId();
    const capture: FileCapture = { filter, peerOf, tell, since, exchanges: 0, isFetched: false, wake: () => undefined };
    this.open.set(id, capture);
    setTimeout(() => {
      if (!capture.isFetched) this.open.delete(id);
    }, FETCHED_WITHIN_MS).unref();
    return { id };
  }

  end(id: string): void {
    const capture = this.open.get(id) ?? refuse('not-there', 'This capture has ended already.');
    this.open.delete(id);
    capture.wake();
  }

  /** The bytes of a capture as pcapng, as they come; it is fetched once. */
  fetch(id: string): AsyncGenerator<Uint8Array> {
    const capture = this.open.get(id) ?? refuse('not-there', 'This capture has ended already.');
    if (capture.isFetched) refuse('not-now', 'This capture goes to a file already.');
    capture.isFetched = true;
    return this.bytesOf(id, capture);
  }

  private async *bytesOf(id: string, capture: FileCapture): AsyncGenerator<Uint8Array> {
    const writer = new PcapngWriter(capture.peerOf, capture.tell);
    const matches = matcher(capture.filter);
    try {
      yield writer.begin();
      let last = (await capture.since(null, 0))?.last ?? 0;
      for (let isLast = false; !isLast;) {
        await new Promise<void>((done) => {
          capture.wake = done;
          setTimeout(done, LOOK_MS);
        });
        isLast = !this.open.has(id);
        const come = await capture.since(last, MAX_AT_ONCE);
        if (!come) return;
        last = come.last;
        const wanted = come.records.filter(matches);
        capture.exchanges += wanted.length;
        if (wanted.length) yield writer.add(wanted);
      }
    } finally {
      this.open.delete(id);
    }
  }
}
