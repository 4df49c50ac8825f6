import { toHex } from '@plain-envoy/core/frame';
import type { FastifyInstance } from 'fastify';
import { z } from 'zod';
import { read, refuse } from './body.js';
import type { PlantOf } from './plant-of.js';

const Byte = z.int('A byte is a whole number.').min(0, 'From 0.').max(255, 'A byte ends at 255.');
const Poke = z.strictObject({ byte: z.int().min(0), bytes: z.array(Byte).min(1).max(64) });
const NONE = 'This device is no converter that is played.';

/** The image of a converter as its stand-in has it, and bytes that are put there by hand. */
export function addImages(app: FastifyInstance, plantOf: PlantOf): void {
  app.get<{ Params: { deviceId: string } }>('/stand-ins/:deviceId/image', (request, reply) => {
    const memory = plantOf(request).member(request.params.deviceId)?.standIn?.memory;
    return memory ? { hex: toHex(memory.bytes) } : refuse(reply, 404, NONE);
  });

  app.put<{ Params: { deviceId: string } }>('/stand-ins/:deviceId/image', (request, reply) => {
    const body = read(Poke, request.body, reply);
    const memory = plantOf(request).member(request.params.deviceId)?.standIn?.memory;
    if (!body) return reply;
    if (!memory) return refuse(reply, 404, NONE);
    if (body.byte + body.bytes.length > memory.bytes.length)
      return refuse(reply, 422, `The image ends at byte ${memory.bytes.length - 1}.`, 'byte');
    memory.poke(body.byte, body.bytes);
    return { hex: toHex(memory.bytes) };
  });
}
