import type { FastifyError, FastifyInstance, FastifySchemaValidationError } from 'fastify';
import { z } from 'zod';
import { isConnectionError, type Database } from '../database/index.js';
import { ProblemError, type RefusalCode, refusals } from '../problem/index.js';
import { type Problem, schemaProblem } from '@plain-envoy/core/outcome';
import { inBackground } from '@plain-envoy/engine/background';

/** Every error leaves as `{ error: { code, message, path } }`: a code for programs, and a sentence that a person can act on. */
export function explainErrors(app: FastifyInstance, database: Database): void {
  app.setErrorHandler<FastifyError>((error, request, reply) => {
    const { code, problem, details, status } = explain(error, database);
    if (code === 'server-failed') request.log.error(error);
    return reply.code(status ?? refusals[code]).send({ error: { code, ...problem, ...details } });
  });
  app.setNotFoundHandler((request, reply) =>
    reply.code(404).send({ error: { code: 'not-there', message: `There is nothing at ${request.method} ${request.url}.`, path: [] } }),
  );
}

interface Explained {
  code: RefusalCode;
  problem: Problem;
  details?: Record<string, unknown>;
  /** Where it is another than that of the code. */
  status?: number;
}

function explain(error: FastifyError, database: Database): Explained {
  if (error instanceof ProblemError) return error;
  if (error.validation) return { code: 'does-not-fit', problem: schemaProblem(new z.ZodError(error.validation.map(issueFrom))) };
  if (isConnectionError(error)) {
    inBackground(database.probe());
    return sentence('no-database', 'The database does not answer; try again when it is back.');
  }
  switch (error.code) {
    case 'FST_ERR_CTP_INVALID_JSON_BODY':
      return sentence('not-json', 'The body is not JSON.');
    case 'FST_ERR_CTP_EMPTY_JSON_BODY':
      return sentence('not-json', 'The body is empty; JSON was expected.');
    case 'FST_ERR_CTP_INVALID_MEDIA_TYPE':
      return sentence('wrong-media', 'The body must be JSON, sent as application/json.');
    case 'FST_ERR_CTP_BODY_TOO_LARGE':
      return sentence('too-large', 'The body is too large.');
  }
  if (error.statusCode && error.statusCode < 500) return { ...sentence('bad-request', error.message), status: error.statusCode };
  return sentence('server-failed', 'The server failed at this; its log says more.');
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

function sentence(code: RefusalCode, message: string): Explained {
  return { code, problem: { message, path: [] } };
}
