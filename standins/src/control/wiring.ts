import { Offset, Table } from '@plain-envoy/core/address';
import { SerialSettings } from '@plain-envoy/core/line';
import { Line, Port } from '@plain-envoy/core/media';
import { Device } from '@plain-envoy/core/model';
import type { FastifyInstance } from 'fastify';
import { z } from 'zod';
import type { Plant } from '../plant/index.js';
import { read, refuse } from './body.js';

const Extent = z.tuple([Offset, Offset]);
const Maps = z.record(z.string(), z.partialRecord(Table, z.array(Extent)));
const Wiring = z.object({ lines: z.array(Line), devices: z.array(Device), ports: z.array(Port), maps: Maps.default({}) });

/** Sets the switches of all as a project has them, and an adapter to a line. */
export function addWiring(app: FastifyInstance, plant: Plant): void {
  app.put('/wiring', async (request, reply) => {
    const body = read(Wiring, request.body, reply);
    if (!body) return reply;
    try {
      await plant.rewire(body);
    } catch (error) {
      return refuse(reply, 409, `Not every stand-in could take its place: ${error instanceof Error ? error.message : String(error)}.`);
    }
    return { devices: plant.members().length };
  });

  app.put<{ Params: { lineId: string } }>('/lines/:lineId/adapter', async (request, reply) => {
    const body = read(SerialSettings, request.body, reply);
    if (!body) return reply;
    const port = await plant.adapter(request.params.lineId, body);
    return port === undefined ? refuse(reply, 404, 'This line is not simulated.') : { port };
  });
}
