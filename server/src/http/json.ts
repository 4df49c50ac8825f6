import { isKept } from '@plain-envoy/core/common';
import type { FastifyInstance, FastifyRequest } from 'fastify';
import { ProblemError } from '../problem/index.js';

/** What a text that cannot be kept looks like in JSON, written out or escaped; anything else is not looked at twice. */
const SUSPICIOUS = /\0|\\u0000|\\u[dD][89a-fA-F]|[\uD800-\uDFFF]/;

type Parse = (request: FastifyRequest, body: string, done: (error: Error | null, value?: unknown) => void) => void;

/** Takes JSON, and refuses texts that the database cannot keep, at their place. */
export function addJson(app: FastifyInstance): void {
  const parse = app.getDefaultJsonParser('error', 'error') as Parse;
  app.removeContentTypeParser('application/json');
  app.addContentTypeParser<string>('application/json', { parseAs: 'string' }, (request, body, done) => {
    parse(request, body, (error, value) => {
      const path = error || !SUSPICIOUS.test(body) ? null : whereNotKept(value, []);
      if (path === null) return done(error, value);
      const problem = { message: 'This holds a character that cannot be kept: a zero, or half of one.', path };
      return done(new ProblemError('does-not-fit', problem));
    });
  });
}

function whereNotKept(value: unknown, path: (string | number)[]): (string | number)[] | null {
  if (typeof value === 'string') return isKept(value) ? null : path;
  if (typeof value !== 'object' || value === null) return null;
  for (const [key, part] of Object.entries(value)) {
    const at = [...path, Array.isArray(value) ? Number(key) : key];
    const found = isKept(key) ? whereNotKept(part, at) : path;
    if (found) return found;
  }
  return null;
}
