import type { FastifyError, FastifyInstance, FastifySchemaValidationError } from 'fastify';
import { z } from 'zod';
import { isConnectionError, type Database } from '../database/index.js';
import { ProblemError } from '../problem/index.js';
import { schemaProblem } from '@plain-envoy/core/outcome';

/** Every error leaves as `{ error: { message, path } }` with a sentence that a person can act on. */
export function explainErrors(app: FastifyInstance, database: Database): void {
  app.setErrorHandler<FastifyError>((error, request, reply) => {
    const { status, body } = explain(error, database);
    if (status === 500) request.log.error(error);
    return reply.code(status).send({ error: body });
  });
  app.setNotFoundHandler((request, reply) =>
    reply.code(404).send({ error: { message: `There is nothing at ${request.method} ${request.url}.`, path: [] } }),
  );
}

function explain(error: FastifyError, database: Database): { status: number; body: Record<string, unknown> } {
  if (error instanceof ProblemError) return { status: error.status, body: { ...error.problem, ...error.details } };
  if (error.validation) {
    return { status: 422, body: { ...schemaProblem(new z.ZodError(error.validation.map(issueFrom))) } };
  }
  if (isConnectionError(error)) {
    void database.probe();
    return sentence(503, 'The database does not answer; try again when it is back.');
  }
  switch (error.code) {
    case 'FST_ERR_CTP_INVALID_JSON_BODY':
      return sentence(400, 'The body is not JSON.');
    case 'FST_ERR_CTP_EMPTY_JSON_BODY':
      return sentence(400, 'The body is empty; JSON was expected.');
    case 'FST_ERR_CTP_INVALID_MEDIA_TYPE':
      return sentence(415, 'The body must be JSON, sent as application/json.');
    case 'FST_ERR_CTP_BODY_TOO_LARGE':
      return sentence(413, 'The body is too large.');
  }
  if (error.statusCode && error.statusCode < 500) return sentence(error.statusCode, error.message);
  return sentence(500, 'The server failed at this; its log says more.');
}

/** The type provider hands a schema's complaint over in Fastify's form; this is the complaint again. */
function issueFrom({ keyword, instancePath, message, params }: FastifySchemaValidationError): z.core.$ZodIssue {
  const path = instancePath
    .split('/')
    .slice(1)
    .filter(Boolean)
    .map((part) => (/^\d+$/.test(part) ? Number(part) : part));
  return { ...params, code: keyword, message: message ?? '', path } as z.core.$ZodIssue;
}

function sentence(status: number, message: string): { status: number; body: Record<string, unknown> } {
  return { status, body: { message, path: [] } };
}
