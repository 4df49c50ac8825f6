import { writeCanCsv, writeCanLog } from '@plain-envoy/core/can';
import type { FastifyInstance } from 'fastify';
import { refuse } from './body.js';
import type { PlantOf } from './plant-of.js';

type OfLine = { Params: { lineId: string } };

/** What is seen on lines of CAN: each identifier, and the last frames as a log. */
export function addCanLines(app: FastifyInstance, plantOf: PlantOf): void {
  app.get<OfLine>(
    '/lines/:lineId/can',
    (request, reply) => plantOf(request).canLine(request.params.lineId)?.state() ?? refuse(reply, 404, 'This line is not simulated.'),
  );
  for (const [form, write] of [
    ['log', writeCanLog],
    ['csv', writeCanCsv],
  ] as const)
    app.get<OfLine>(`/lines/:lineId/can.${form}`, (request, reply) => {
      const line = plantOf(request).canLine(request.params.lineId);
      return line ? { text: write(line.frames) } : refuse(reply, 404, 'This line is not simulated.');
    });
}
