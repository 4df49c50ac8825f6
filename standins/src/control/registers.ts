import { isBitTable, Offset, Table } from '@plain-envoy/core/address';
import type { HeldWords } from '@plain-envoy/core/feed';
import { Point, pointLayout, pointWidth } from '@plain-envoy/core/model';
import { encode, Value } from '@plain-envoy/core/value';
import type { FastifyInstance } from 'fastify';
import { z } from 'zod';
import { read, refuse } from './body.js';
import type { PlantOf } from './plant-of.js';

const Hold = z.strictObject({ table: Table, offset: Offset, words: z.array(z.int().min(0).max(65_535)).min(1).max(125) });
const HeldSpan = z.strictObject({ table: Table, offset: Offset, count: z.int().min(1).max(125) });
const Drive = z.strictObject({ point: Point, value: Value });
const Look = z.strictObject({ points: z.array(Point).max(50_000) });

/** Holds registers at a value and releases them; puts a value where a point is, and says what is there. */
export function addRegisters(app: FastifyInstance, plantOf: PlantOf): void {
  app.put<{ Params: { deviceId: string } }>('/stand-ins/:deviceId/registers', (request, reply) => {
    const body = read(Hold, request.body, reply);
    const bank = plantOf(request).member(request.params.deviceId)?.standIn?.bank;
    if (!body) return reply;
    if (!bank) return refuse(reply, 404, 'There is no stand-in with registers for this device.');
    const { table, offset, words } = body;
    if (!bank.has(table, offset, words.length)) return refuse(reply, 422, 'This stand-in has no register there.', 'offset');
    bank.hold(table, offset, isBitTable(table) ? words.map((word) => Number(word !== 0)) : words);
    return { held: bank.heldPlaces() };
  });

  app.put<{ Params: { deviceId: string } }>('/stand-ins/:deviceId/release', (request, reply) => {
    const body = read(HeldSpan, request.body, reply);
    const bank = plantOf(request).member(request.params.deviceId)?.standIn?.bank;
    if (!body) return reply;
    if (!bank) return refuse(reply, 404, 'There is no stand-in with registers for this device.');
    bank.release(body.table, body.offset, body.count);
    return { held: bank.heldPlaces() };
  });

  app.put<{ Params: { deviceId: string } }>('/stand-ins/:deviceId/drive', (request, reply) => {
    const body = read(Drive, request.body, reply);
    const member = plantOf(request).member(request.params.deviceId);
    const bank = member?.standIn?.bank;
    if (!body) return reply;
    if (!bank) return refuse(reply, 404, 'There is no stand-in with registers for this device.');
    const { point } = body;
    const { table, offset, bit } = point;
    if (!bank.has(table, offset, pointWidth(point))) return refuse(reply, 422, `${member.device.name} has no register there.`, 'point');
    const layout = pointLayout(point);
    const encoded = layout ? encode(body.value, layout) : null;
    if (encoded && !encoded.ok) return refuse(reply, 422, encoded.problem.message, 'value');
    const isOn = Number(body.value) !== 0;
    const alone = bit === null ? [Number(isOn)] : [(bank.get(table, offset) & ~(1 << bit)) | (Number(isOn) << bit)];
    const words = encoded?.ok ? encoded.value.words : alone;
    bank.hold(table, offset, words);
    return { words };
  });

  app.put('/look', (request, reply) => {
    const body = read(Look, request.body, reply);
    if (!body) return reply;
    const plant = plantOf(request);
    return body.points.flatMap((asked): HeldWords[] => {
      const member = plant.member(asked.deviceId);
      const bank = member?.standIn?.bank;
      if (!bank) return [];
      const { id, table, offset } = asked;
      const width = pointWidth(asked);
      return bank.has(table, offset, width) ? [{ id, words: [...bank.slice(table, offset, width)] }] : [];
    });
  });
}
