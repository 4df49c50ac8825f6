import { schemaProblem } from '@plain-envoy/core/outcome';
import type { FastifyReply } from 'fastify';
import type { z } from 'zod';

/** The body as this schema has it; null where it does not fit, which is answered then. */
export function read<T extends z.ZodType>(schema: T, body: unknown, reply: FastifyReply): z.output<T> | null {
  const parsed = schema.safeParse(body);
  if (parsed.success) return parsed.data;
  void reply.code(422).send({ error: schemaProblem(parsed.error) });
  return null;
}

export function refuse(reply: FastifyReply, status: number, message: string, ...path: string[]): FastifyReply {
  return reply.code(status).send({ error: { message, path } });
}
