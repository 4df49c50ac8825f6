import { timingSafeEqual } from 'node:crypto';
import Fastify, { type FastifyInstance } from 'fastify';
import type { Plants } from '../plant/index.js';
import { refuse } from './body.js';
import { addCanLines } from './can-lines.js';
import { addImages } from './image.js';
import { addMembers } from './members.js';
import { addRegisters } from './registers.js';
import type { PlantOf, ToProject } from './plant-of.js';
import { addStations } from './stations.js';
import { addTraffic } from './traffic.js';
import { addAdapters, addWiring } from './wiring.js';

const HOSTS = /^(127\.0\.0\.1|localhost)(:\d+)?$/;
/** Tells the server whether these are the stand-ins that it has set, or others that were started since. */
const STARTED = 'x-started';
/** A project of some thousand devices. */
const BODY_BYTES = 8 * 1024 * 1024;

/** The stand-ins' own small interface, for the server and for tests. */
export function controlInterface(plants: Plants): FastifyInstance {
  const app = Fastify({ bodyLimit: BODY_BYTES });
  const started = String(Date.now());
  app.addHook('onSend', async (_request, reply) => void reply.header(STARTED, started));
  app.register(
    (scope, _options, done) => {
      addWiring(scope, plants);
      scope.register((played, _none, ready) => {
        const known = ({ params }: { params: unknown }) => plants.get((params as ToProject['Params']).projectId);
        played.addHook('preHandler', async (request, reply) =>
          known(request) ? undefined : refuse(reply, 404, 'This project has no stand-ins here yet.'),
        );
        addPlant(played, (request) => known(request)!);
        ready();
      });
      done();
    },
    { prefix: '/projects/:projectId' },
  );
  return app;
}

/** What can be asked about the stand-ins of one project. */
export function addPlant(app: FastifyInstance, plantOf: PlantOf): void {
  addMembers(app, plantOf);
  addImages(app, plantOf);
  addRegisters(app, plantOf);
  addAdapters(app, plantOf);
  addTraffic(app, plantOf);
  addCanLines(app, plantOf);
  addStations(app, plantOf);
}

/** Answers only who knows the token, on this machine, and no page of a browser. */
export function allowOnly(app: FastifyInstance, token: string): void {
  const wanted = Buffer.from(`Bearer ${token}`);
  app.addHook('onRequest', async (request, reply) => {
    const { authorization = '', host = '', origin } = request.headers;
    const given = Buffer.from(authorization);
    const knows = given.length === wanted.length && timingSafeEqual(given, wanted);
    return knows && origin === undefined && HOSTS.test(host)
      ? undefined
      : refuse(reply, 403, 'Only the server of this start is answered here.');
  });
}
