import { Faults, type StandInState } from '@plain-envoy/core/feed';
import { DeviceRecording } from '@plain-envoy/core/model';
import { Reel } from '@plain-envoy/core/replay';
import type { FastifyInstance } from 'fastify';
import { z } from 'zod';
import { read, refuse } from './body.js';
import type { PlantOf } from './plant-of.js';
import { inBackground } from '@plain-envoy/engine/background';

const Cut = z.strictObject({ cut: z.boolean() });
const SetFaults = z.strictObject({ faults: Faults });
const Recording = z.strictObject({ of: DeviceRecording, reel: Reel.nullable(), problem: z.string().nullable() });
/** The largest recording of one device. */
const REEL_BYTES = 32 * 1024 * 1024;
const Reboot = z.strictObject({ ms: z.int().min(100, 'At least 100 ms.').max(60_000, 'At most 60 000 ms.') });

/** Who is there; cuts a device off and puts it back, lets it do things wrong, or begin anew. */
export function addMembers(app: FastifyInstance, plantOf: PlantOf): void {
  app.get('/stand-ins', (request) =>
    plantOf(request)
      .members()
      .map(({ device, standIn, cut, faulty, late, heard }): StandInState => ({
        deviceId: device.id,
        name: device.name,
        kind: device.standIn ?? '',
        cut,
        hasRegisters: standIn !== null,
        held: standIn?.bank.heldPlaces() ?? [],
        faults: [...faulty.all],
        late,
        heard,
        program: standIn?.program ? { problems: standIn.program.problems, stopped: standIn.program.stopped } : null,
        recording: standIn?.recordingState ?? null,
        cans: standIn ? [...standIn.canSides].map(([portId, side]) => ({ portId, ...side.state() })) : [],
        links: standIn ? [...standIn.linkSides].map(([portId, side]) => ({ portId, ...side.state() })) : [],
        stations: standIn
          ? [...standIn.stationSides].flatMap(([portId, sides]) => sides.map((side, index) => ({ portId, index, ...side.state() })))
          : [],
        texts: standIn ? [...standIn.sides].map(([portId, side]) => ({ portId, ...side.state() })) : [],
      })),
  );

  app.get<{ Params: { deviceId: string } }>('/stand-ins/:deviceId/variables', (request, reply) => {
    const member = plantOf(request).member(request.params.deviceId);
    return member ? (member.standIn?.program?.values() ?? {}) : refuse(reply, 404, 'There is no stand-in for this device.');
  });

  app.put<{ Params: { deviceId: string } }>('/stand-ins/:deviceId/recording', { bodyLimit: REEL_BYTES }, (request, reply) => {
    const body = read(Recording, request.body, reply);
    const standIn = plantOf(request).member(request.params.deviceId)?.standIn;
    if (!body) return reply;
    if (!standIn) return refuse(reply, 404, 'There is no stand-in for this device.');
    standIn.takeRecording(body);
    return standIn.recordingState;
  });

  app.put<{ Params: { deviceId: string } }>('/stand-ins/:deviceId/cut', async (request, reply) => {
    const body = read(Cut, request.body, reply);
    const plant = plantOf(request);
    if (!body) return reply;
    if (!plant.member(request.params.deviceId)) return refuse(reply, 404, 'There is no stand-in for this device.');
    await plant.cutOff(request.params.deviceId, body.cut);
    return { cut: body.cut };
  });

  app.put<{ Params: { deviceId: string } }>('/stand-ins/:deviceId/faults', (request, reply) => {
    const body = read(SetFaults, request.body, reply);
    const plant = plantOf(request);
    if (!body) return reply;
    if (!plant.member(request.params.deviceId)) return refuse(reply, 404, 'There is no stand-in for this device.');
    plant.setFaults(request.params.deviceId, body.faults);
    return { faults: body.faults };
  });

  app.put<{ Params: { deviceId: string } }>('/stand-ins/:deviceId/reboot', (request, reply) => {
    const body = read(Reboot, request.body, reply);
    const plant = plantOf(request);
    if (!body) return reply;
    if (!plant.member(request.params.deviceId)) return refuse(reply, 404, 'There is no stand-in for this device.');
    inBackground(plant.reboot(request.params.deviceId, body.ms));
    return { ms: body.ms };
  });
}
