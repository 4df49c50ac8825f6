import { rowOf } from '@plain-envoy/core/trace';
import type { FastifyInstance } from 'fastify';
import { z } from 'zod';
import { read } from './body.js';
import type { PlantOf } from './plant-of.js';

const After = z.object({ after: z.coerce.number().int().min(0) });

/** What went over the lines of the stand-ins after a number that was told before. */
export function addTraffic(app: FastifyInstance, plantOf: PlantOf): void {
  app.get('/traffic', (request, reply) => {
    const asked = read(After, request.query, reply);
    if (!asked) return reply;
    const { last, entries } = plantOf(request).traffic.since(asked.after);
    return { last, rows: entries.map(rowOf) };
  });
}
