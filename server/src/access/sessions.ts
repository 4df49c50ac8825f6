import { createHash, randomBytes } from 'node:crypto';

/** Nothing was asked for so long, or it began so long ago: whoever is there has to sign in again. */
const IDLE_MS = 2 * 60 * 60_000;
const LONGEST_MS = 12 * 60 * 60_000;

interface Session {
  name: string;
  beganMs: number;
  seenMs: number;
  over: AbortController;
}

/** Who is signed in. Tokens are kept as their hash only. */
export class Sessions {
  private readonly sessions = new Map<string, Session>();

  /** A new session's token. */
  begin(name: string, nowMs = Date.now()): string {
    this.sweep(nowMs);
    const token = randomBytes(32).toString('base64url');
    this.sessions.set(keyOf(token), { name, beganMs: nowMs, seenMs: nowMs, over: new AbortController() });
    return token;
  }

  /** Who it is, and what fires when the session is over; null where there is none, or not any more. */
  of(token: string | undefined, nowMs = Date.now()): { name: string; over: AbortSignal } | null {
    this.sweep(nowMs);
    const session = token === undefined ? undefined : this.sessions.get(keyOf(token));
    if (!session) return null;
    session.seenMs = nowMs;
    return { name: session.name, over: session.over.signal };
  }

  end(token: string): void {
    const key = keyOf(token);
    this.sessions.get(key)?.over.abort();
    this.sessions.delete(key);
  }

  /** Ends those whose time is over. */
  sweep(nowMs = Date.now()): void {
    for (const [key, { beganMs, seenMs, over }] of this.sessions) {
      if (nowMs - seenMs < IDLE_MS && nowMs - beganMs < LONGEST_MS) continue;
      over.abort();
      this.sessions.delete(key);
    }
  }
}

function keyOf(token: string): string {
  return createHash('sha256').update(token).digest('hex');
}
