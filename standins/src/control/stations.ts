import type { FastifyInstance } from 'fastify';
import { z } from 'zod';
import { read, refuse } from './body.js';
import type { PlantOf } from './plant-of.js';

type OfDevice = { Params: { deviceId: string } };
const Archive = z.object({ pointId: z.string().optional() });
/** So many of the last are given where none is named. */
const LAST = 300;
const Command = z.strictObject({ pointId: z.string(), said: z.number() });

/** What a control station has in its archive, and commands that a person gives there. */
export function addStations(app: FastifyInstance, plantOf: PlantOf): void {
  const sidesOf = (request: { params: OfDevice['Params'] }) =>
    [...(plantOf(request).member(request.params.deviceId)?.standIn?.stationSides.values() ?? [])].flat();

  app.get<OfDevice>('/stand-ins/:deviceId/archive', (request, reply) => {
    const asked = read(Archive, request.query, reply);
    if (!asked) return reply;
    const events = sidesOf(request).flatMap((side) => side.archive(asked.pointId ?? null));
    return { events: asked.pointId ? events : events.sort((a, b) => a.atMs - b.atMs).slice(-LAST) };
  });

  app.put<OfDevice>('/stand-ins/:deviceId/command', (request, reply) => {
    const body = read(Command, request.body, reply);
    if (!body) return reply;
    const isTaken = sidesOf(request).some((side) => side.command(body.pointId, body.said));
    return isTaken ? {} : refuse(reply, 404, 'There is no control station that gives this command.');
  });
}
