import Fastify, { type FastifyInstance } from 'fastify';
import type { Plant } from '../plant/index.js';
import { addMembers } from './members.js';
import { addRegisters } from './registers.js';
import { addWiring } from './wiring.js';

/** A project of some thousand devices. */
const BODY_BYTES = 8 * 1024 * 1024;

/** The stand-ins' own small interface, for the server and for tests. */
export function controlInterface(plant: Plant): FastifyInstance {
  const app = Fastify({ bodyLimit: BODY_BYTES });
  addMembers(app, plant);
  addRegisters(app, plant);
  addWiring(app, plant);
  return app;
}
