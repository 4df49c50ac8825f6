import Fastify, { type FastifyInstance } from 'fastify';
import { addPlant } from '../control/index.js';
import type { Plant } from './plant.js';

/** What can be asked about these stand-ins, without the project that they are of. */
export function controlOf(plant: Plant): FastifyInstance {
  const app = Fastify();
  addPlant(app, () => plant);
  return app;
}
