import websocket from '@fastify/websocket';
import Fastify, { type FastifyInstance } from 'fastify';
import { serializerCompiler, validatorCompiler } from 'fastify-type-provider-zod';
import { addBytes } from './bytes.js';
import { addJson } from './json.js';
import { addApi } from './api.js';
import { explainErrors } from './errors.js';
import { guard } from './guard.js';
import { addPages } from './pages.js';
import { addSignIn } from './sign-in.js';
import { ById, type Services } from './services.js';

const BODY_BYTES = 16 * 1024 * 1024;
const MESSAGE_BYTES = 4 * 1024 * 1024;

export interface AppOptions extends Services {
  /** Host names under which it answers. */
  hosts: ReadonlySet<string>;
  /** What is kept of the passphrase that one signs in with; null where nobody has to. */
  passphrase: string | null;
  /** Where it is served over TLS. */
  tls: { cert: string; key: string } | null;
  /** Where the built page lies; null to serve the API alone. */
  webFolder: string | null;
}

export async function buildApp({ hosts, passphrase, tls, webFolder, ...services }: AppOptions): Promise<FastifyInstance> {
  const options = { bodyLimit: BODY_BYTES, forceCloseConnections: true, logger: { level: 'warn' } };
  const app = (tls ? Fastify({ ...options, https: tls }) : Fastify(options)) as FastifyInstance;
  app.removeContentTypeParser('text/plain');
  addJson(app);
  addBytes(app);
  app.setValidatorCompiler(validatorCompiler);
  app.setSerializerCompiler(serializerCompiler);
  explainErrors(app, services.database);
  guard(app, hosts);
  await addSignIn(app, passphrase, tls !== null);
  await app.register(websocket, { options: { maxPayload: MESSAGE_BYTES } });
  if (webFolder) await addPages(app, webFolder);
  addApi(app, services);
  app.register((scope, _options, done) => {
    scope.get<{ Params: { id: string } }>('/api/projects/:id/live', { websocket: true }, (socket, { params }) =>
      ById.safeParse(params).success ? services.workplaces.of(params.id).join(socket) : socket.close(1008, 'That is no id of a project.'),
    );
    done();
  });
  return app;
}
