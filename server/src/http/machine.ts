import { listSerialPorts } from '@plain-envoy/engine/links';
import type { FastifyInstance } from 'fastify';
import type { ZodTypeProvider } from 'fastify-type-provider-zod';
import { AskListen, AskListenCan, canInterfaces, listen, listenCan } from '../listening/index.js';
import type { Services } from './services.js';
import { hangUp, streamOnceBegun } from './stream.js';

/** What of this machine has to do with no project: its serial ports and interfaces of CAN, and what is heard there. */
export function addMachine(instance: FastifyInstance, { claims }: Pick<Services, 'claims'>): void {
  const app = instance.withTypeProvider<ZodTypeProvider>();

  app.get('/api/machine/serial-ports', () => listSerialPorts());
  app.post('/api/machine/listen', { schema: { body: AskListen } }, (request, reply) =>
    streamOnceBegun(reply, listen(request.body, claims, hangUp(reply))),
  );
  app.get('/api/machine/can-interfaces', () => canInterfaces());
  app.post('/api/machine/listen-can', { schema: { body: AskListenCan } }, (request, reply) =>
    streamOnceBegun(reply, listenCan(request.body, claims, hangUp(reply))),
  );
}
