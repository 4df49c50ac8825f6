import { Offset, Table } from '@plain-envoy/core/address';
import { CarriedFrame, CarriedLink, CarriedTelegram } from '@plain-envoy/core/converter';
import { CarriedStation } from '@plain-envoy/core/stations';
import { SerialSettings } from '@plain-envoy/core/line';
import { Line, Port } from '@plain-envoy/core/media';
import { Device, pointFields } from '@plain-envoy/core/model';
import type { FastifyInstance } from 'fastify';
import { z } from 'zod';
import type { Plants } from '../plant/index.js';
import { read, refuse } from './body.js';
import { type PlantOf, type ToProject } from './plant-of.js';

const Extent = z.tuple([Offset, Offset]);
const { name, table, offset, bit, type, order, length, encoding } = pointFields;
const Placed = z.object({ name, table, offset, bit, type, order, length, encoding });
const Map = z.object({ extents: z.partialRecord(Table, z.array(Extent)), points: z.array(Placed) });
const Texts = z.record(z.string(), z.array(CarriedTelegram));
const Frames = z.record(z.string(), z.array(CarriedFrame));
const Links = z.record(z.string(), CarriedLink);
const Stations = z.record(z.string(), z.array(CarriedStation));
const Wiring = z.object({
  lines: z.array(Line),
  devices: z.array(Device),
  ports: z.array(Port),
  maps: z.record(z.string(), Map),
  texts: Texts,
  frames: Frames,
  links: Links,
  stations: Stations,
});

/** Plays a project: makes its stand-ins or sets them as it has them now, and says where they listen and which recordings they have to be given; and plays it no longer. */
export function addWiring(app: FastifyInstance, plants: Plants): void {
  app.put<ToProject>('/wiring', async (request, reply) => {
    const body = read(Wiring, request.body, reply);
    if (!body) return reply;
    try {
      const port = await plants.play(request.params.projectId, body);
      return { port, lacking: plants.get(request.params.projectId)!.lacking() };
    } catch (error) {
      return refuse(reply, 409, `Not every stand-in could take its place: ${error instanceof Error ? error.message : String(error)}.`);
    }
  });
  app.delete<ToProject>('/wiring', async (request) => {
    await plants.end(request.params.projectId);
    return {};
  });
}

/** Sets an adapter to a line. */
export function addAdapters(app: FastifyInstance, plantOf: PlantOf): void {
  app.put<{ Params: { lineId: string } }>('/lines/:lineId/adapter', async (request, reply) => {
    const body = read(SerialSettings, request.body, reply);
    if (!body) return reply;
    const port = await plantOf(request).adapter(request.params.lineId, body);
    return port === undefined ? refuse(reply, 404, 'This line is not simulated.') : { port };
  });
}
