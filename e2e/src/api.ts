export type Api = <T>(method: string, path: string, body?: unknown) => Promise<T>;

/** Asks a running start; rejects with what it answers where it refuses. */
export function apiOf(address: string): Api {
  return async <T>(method: string, path: string, body?: unknown): Promise<T> => {
    const sent = body === undefined ? {} : { body: JSON.stringify(body), headers: { 'content-type': 'application/json' } };
    const response = await fetch(`${address}/api/${path}`, { method, ...sent });
    if (!response.ok) throw new Error(`${method} ${path}: ${await response.text()}`);
    return (await response.json()) as T;
  };
}
