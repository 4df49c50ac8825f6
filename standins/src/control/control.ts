import { isBitTable, Offset, Table } from '@plain-envoy/core/address';
import { Faults, type Looked, type StandInState } from '@plain-envoy/core/feed';
import { SerialSettings } from '@plain-envoy/core/line';
import { Device, Point, pointLayout, pointWidth } from '@plain-envoy/core/model';
import { encode, Value } from '@plain-envoy/core/value';
import Fastify, { type FastifyInstance, type FastifyReply } from 'fastify';
import { z } from 'zod';
import { inPapers } from '../kinds/index.js';
import type { Plant } from '../plant/index.js';
import { schemaProblem } from '@plain-envoy/core/outcome';
import { Line, Port } from '@plain-envoy/core/media';

const Hold = z.strictObject({ table: Table, offset: Offset, words: z.array(z.int().min(0).max(65_535)).min(1).max(125) });
const HeldSpan = z.strictObject({ table: Table, offset: Offset, count: z.int().min(1).max(125) });
const Cut = z.strictObject({ cut: z.boolean() });
const SetFaults = z.strictObject({ faults: Faults });
const Reboot = z.strictObject({ ms: z.int().min(100, 'At least 100 ms.').max(60_000, 'At most 60 000 ms.') });
const Drive = z.strictObject({ point: Point, value: Value });
const Look = z.strictObject({ points: z.array(Point).max(50_000) });
const Wiring = z.object({ lines: z.array(Line), devices: z.array(Device), ports: z.array(Port) });

/** A project of some thousand devices. */
const BODY_BYTES = 8 * 1024 * 1024;

/**
 * The stand-ins' own small interface: who is there, hold a register at a value, release it, cut a device off and put it
 * back, let it do things wrong or begin anew; put a value where its papers have a point, or see what is there; set the switches of all as a project has them, and set an adapter to a line.
 */
export function controlInterface(plant: Plant): FastifyInstance {
  const app = Fastify({ bodyLimit: BODY_BYTES });

  app.get('/stand-ins', () =>
    plant.members().map(({ device, standIn, cut, faulty }): StandInState => ({
      deviceId: device.id,
      name: device.name,
      kind: device.standIn ?? '',
      cut,
      hasRegisters: standIn !== null,
      held: standIn?.bank.heldPlaces() ?? [],
      faults: [...faulty.all],
    })),
  );

  app.put<{ Params: { deviceId: string } }>('/stand-ins/:deviceId/registers', (request, reply) => {
    const body = read(Hold, request.body, reply);
    const bank = plant.member(request.params.deviceId)?.standIn?.bank;
    if (!body) return reply;
    if (!bank) return refuse(reply, 404, 'There is no stand-in with registers for this device.');
    const { table, offset, words } = body;
    if (!bank.has(table, offset, words.length)) return refuse(reply, 422, 'This stand-in has no register there.', 'offset');
    bank.hold(table, offset, isBitTable(table) ? words.map((word) => Number(word !== 0)) : words);
    return { held: bank.heldPlaces() };
  });

  app.put<{ Params: { deviceId: string } }>('/stand-ins/:deviceId/release', (request, reply) => {
    const body = read(HeldSpan, request.body, reply);
    const bank = plant.member(request.params.deviceId)?.standIn?.bank;
    if (!body) return reply;
    if (!bank) return refuse(reply, 404, 'There is no stand-in with registers for this device.');
    bank.release(body.table, body.offset, body.count);
    return { held: bank.heldPlaces() };
  });

  app.put<{ Params: { deviceId: string } }>('/stand-ins/:deviceId/drive', (request, reply) => {
    const body = read(Drive, request.body, reply);
    const member = plant.member(request.params.deviceId);
    const bank = member?.standIn?.bank;
    if (!body) return reply;
    if (!bank) return refuse(reply, 404, 'There is no stand-in with registers for this device.');
    const point = inPapers(member.device, body.point) ?? body.point;
    const { table, offset, bit } = point;
    if (!bank.has(table, offset, pointWidth(point))) return refuse(reply, 422, `${member.device.name} has no register there.`, 'point');
    const layout = pointLayout(point);
    const encoded = layout ? encode(body.value, layout) : null;
    if (encoded && !encoded.ok) return refuse(reply, 422, encoded.problem.message, 'value');
    const isOn = Number(body.value) !== 0;
    const alone = bit === null ? [Number(isOn)] : [(bank.get(table, offset) & ~(1 << bit)) | (Number(isOn) << bit)];
    const words = encoded?.ok ? encoded.value.words : alone;
    bank.hold(table, offset, words);
    return { point, words };
  });

  app.put('/look', (request, reply) => {
    const body = read(Look, request.body, reply);
    if (!body) return reply;
    return body.points.flatMap((asked): Looked[] => {
      const member = plant.member(asked.deviceId);
      const bank = member?.standIn?.bank;
      if (!bank) return [];
      const point = inPapers(member.device, asked) ?? asked;
      const width = pointWidth(point);
      if (!bank.has(point.table, point.offset, width)) return [];
      return [{ id: asked.id, point, words: [...bank.slice(point.table, point.offset, width)] }];
    });
  });

  app.put<{ Params: { deviceId: string } }>('/stand-ins/:deviceId/cut', async (request, reply) => {
    const body = read(Cut, request.body, reply);
    if (!body) return reply;
    if (!plant.member(request.params.deviceId)) return refuse(reply, 404, 'There is no stand-in for this device.');
    await plant.cutOff(request.params.deviceId, body.cut);
    return { cut: body.cut };
  });

  app.put<{ Params: { deviceId: string } }>('/stand-ins/:deviceId/faults', (request, reply) => {
    const body = read(SetFaults, request.body, reply);
    if (!body) return reply;
    if (!plant.member(request.params.deviceId)) return refuse(reply, 404, 'There is no stand-in for this device.');
    plant.setFaults(request.params.deviceId, body.faults);
    return { faults: body.faults };
  });
  app.put<{ Params: { deviceId: string } }>('/stand-ins/:deviceId/reboot', (request, reply) => {
    const body = read(Reboot, request.body, reply);
    if (!body) return reply;
    if (!plant.member(request.params.deviceId)) return refuse(reply, 404, 'There is no stand-in for this device.');
    void plant.reboot(request.params.deviceId, body.ms);
    return { ms: body.ms };
  });
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

  return app;
}

function read<T extends z.ZodType>(schema: T, body: unknown, reply: FastifyReply): z.output<T> | null {
  const parsed = schema.safeParse(body);
  if (parsed.success) return parsed.data;
  void reply.code(422).send({ error: schemaProblem(parsed.error) });
  return null;
}

function refuse(reply: FastifyReply, status: number, message: string, ...path: string[]): FastifyReply {
  return reply.code(status).send({ error: { message, path } });
}
