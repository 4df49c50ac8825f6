import { functionOf } from '../frame/index.js';
import { inquiryOf } from './inquiries/index.js';

/** How a sound answer to a request begins, and how long it is where that is known. */
function expected(request: Uint8Array): { start: Uint8Array; length: number | null } {
  const code = request[0] ?? 0;
  const known = functionOf(code);
  if (known?.kind === 'read' || known?.kind === 'exchange') {
    const count = ((request[3] ?? 0) << 8) | (request[4] ?? 0);
    const bytes = known.bits ? Math.ceil(count / 8) : count * 2;
    return { start: Uint8Array.of(code, bytes & 0xff), length: 2 + bytes };
  }
  if (known?.kind === 'write-many') return { start: request.subarray(0, 5), length: 5 };
  if (known) return { start: request, length: request.length };
  return inquiryOf(code)?.answersLike(request) ?? { start: request.subarray(0, 1), length: null };
}

/** Whether these bytes, by their form alone, could be the answer to this request: exceptions to its function could. Both are PDUs. */
export function couldAnswer(request: Uint8Array, answer: Uint8Array): boolean {
  if (answer[0] === ((request[0] ?? 0) | 0x80)) return answer.length === 2;
  const { start, length } = expected(request);
  return (length === null || answer.length === length) && start.every((byte, at) => answer[at] === byte);
}

/** Whether a sound answer to one of these requests could be taken for an answer to the other. */
export function haveLikeAnswers(one: Uint8Array, other: Uint8Array): boolean {
  const [a, b] = [expected(one), expected(other)];
  if (a.length !== null && b.length !== null && a.length !== b.length) return false;
  const shared = Math.min(a.start.length, b.start.length);
  return a.start.subarray(0, shared).every((byte, at) => b.start[at] === byte);
}
