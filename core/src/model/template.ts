import * as z from 'zod';
import { FILE_VERSION, FileVersion } from '../common/index.js';
import { joiningPort } from './blank.js';
import type { Change } from './change-set.js';
import { BY_ITS_MAP, Device } from './device.js';
import type { ProjectDocument } from './document.js';
import { Paper } from './paper.js';
import { atRegister, inRenamed, PointPlace } from '../place/index.js';
import { checkFrame, DeviceFrame } from './device-frame.js';
import { checkTelegram, DeviceTelegram } from './device-telegram.js';
import { bodyOf, checkPoint, pointBodyFields } from './point.js';
import { bad, good, type Outcome, schemaProblem } from '../outcome/index.js';
import { type Line, Port, mediumOf } from '../media/index.js';

const withoutIds = { id: true, projectId: true } as const;
const TemplatePort = z.discriminatedUnion(
  'kind',
  Port.options.map((option) =>
    z.strictObject(
      Object.fromEntries(
        Object.entries(option.shape).filter(([key]) => !['id', 'projectId', 'deviceId', 'lineId', 'position'].includes(key)),
      ),
    ),
  ) as never,
) as unknown as z.ZodType<Record<string, unknown> & { kind: Port['kind'] }>;

/** A row of its map, and where in which of its telegrams or frames it lies, where it does. */
const TemplatePoint = z.strictObject({ ...pointBodyFields, place: PointPlace.default(atRegister) }).superRefine(checkPoint);
const { projectId: _project, deviceId: _device, ...telegramFields } = DeviceTelegram.shape;
const TemplateTelegram = z.strictObject(telegramFields).superRefine(checkTelegram);
const { projectId: _ofProject, deviceId: _ofDevice, ...frameFields } = DeviceFrame.shape;
const TemplateFrame = z.strictObject(frameFields).superRefine(checkFrame);

/** A device with its ports and its register map, free of any project: what a library file holds. */
export const DeviceTemplate = z.strictObject({
  format: z.literal('plain-envoy device'),
  version: FileVersion,
  device: z.strictObject(Device.shape).omit(withoutIds),
  ports: z.array(TemplatePort).max(16),
  points: z.array(TemplatePoint).max(65_536),
  telegrams: z
    .array(TemplateTelegram)
    .max(200)
    .default([])
    .describe('What it sends and takes on a text line; their ids are those that its points name'),
  frames: z.array(TemplateFrame).max(2000).default([]).describe('The same on CAN'),
  papers: Paper.omit({ id: true, projectId: true, deviceId: true }).nullable().default(null).describe('Its map as its manual has it'),
});
export type DeviceTemplate = z.infer<typeof DeviceTemplate>;

/** A device of a project as a template. */
export function templateOf({ devices, ports, points, papers, telegrams, frames }: ProjectDocument, deviceId: string): DeviceTemplate {
  const device = devices.find(({ id }) => id === deviceId);
  if (!device) throw new RangeError('There is no such device in the project.');
  const own = <T extends { deviceId: string }>(rows: readonly T[]) => rows.filter((row) => row.deviceId === deviceId);
  return DeviceTemplate.parse({
    format: 'plain-envoy device',
    version: FILE_VERSION,
    device: { ...bare(device, ['id', 'projectId']), fromLibrary: null, recording: null },
    ports: own(ports).map((port) => bare(port, ['id', 'projectId', 'deviceId', 'lineId', 'position'])),
    points: own(points).map((point) => ({ ...bodyOf(point), place: point.place })),
    telegrams: own(telegrams).map((telegram) => bare(telegram, ['projectId', 'deviceId'])),
    frames: own(frames).map((frame) => bare(frame, ['projectId', 'deviceId'])),
    papers: own(papers).map((paper) => bare(paper, ['id', 'projectId', 'deviceId']))[0] ?? null,
  });
}

export interface AddDevices {
  template: DeviceTemplate;
  /** Of the first; the others count up from it. */
  name: string;
  /** On which line they hang; ports of other kinds than the line's are left out. null for none. */
  lineId: string | null;
  count: number;
  /** Of the library, where the template is from there. */
  fromLibrary?: Device['fromLibrary'];
  newId(): string;
}

/**
 * The changes that add `count` devices like a template: names count up from the number at their end, unit IDs and addresses
 * from the next that is free on the line. Ports are set as the template has them, whatever the line says. Each is played by a
 * stand-in: by that of the template, else by one with the registers of its map.
 */
export function addDevices(
  document: ProjectDocument,
  { template, name, lineId, count, fromLibrary = null, newId }: AddDevices,
): Outcome<Change[]> {
  const line = document.lines.find(({ id }) => id === lineId);
  const taken = new Set(document.devices.map((device) => device.name));
  const changes: Change[] = [];
  let ports: Port[] = document.ports;
  let called = name;
  for (let index = 0; index < count; index++) {
    if (index > 0) called = nextName(called);
    if (taken.has(called)) return bad(`There is a device “${called}” already.`, 'name');
    const projectId = document.project.id;
    const standIn = template.device.standIn ?? BY_ITS_MAP;
    const device = { ...template.device, id: newId(), projectId, name: called, standIn, fromLibrary };
    changes.push({ entity: 'device', id: device.id, before: null, after: device });
    if (line) {
      const port = portOn({ ...document, ports }, line, template, { id: newId(), deviceId: device.id });
      if (!port.ok) return port;
      ports = [...ports, port.value];
      changes.push({ entity: 'port', id: port.value.id, before: null, after: port.value });
    }
    if (template.papers) {
      const paper = { ...template.papers, id: newId(), projectId, deviceId: device.id };
      changes.push({ entity: 'paper', id: paper.id, before: null, after: paper });
    }
    const renamed = new Map([...template.telegrams, ...template.frames].map(({ id }) => [id, newId()]));
    for (const { when, ...telegram } of template.telegrams) {
      const id = renamed.get(telegram.id)!;
      const answers = when.on === 'request' ? { ...when, telegramId: renamed.get(when.telegramId) ?? when.telegramId } : when;
      changes.push({ entity: 'telegram', id, before: null, after: { ...telegram, when: answers, id, projectId, deviceId: device.id } });
    }
    for (const frame of template.frames) {
      const id = renamed.get(frame.id)!;
      changes.push({ entity: 'frame', id, before: null, after: { ...frame, id, projectId, deviceId: device.id } });
    }
    for (const { place, ...point } of template.points) {
      const id = newId();
      changes.push({
        entity: 'point',
        id,
        before: null,
        after: { ...point, id, projectId, deviceId: device.id, place: inRenamed(place, renamed), releasedBy: null, watchdogMs: null },
      });
    }
  }
  return good(changes);
}

/** `Grain cable 6` → `Grain cable 7`; a name without a number gets a 2. */
export function nextName(name: string): string {
  const number = /\d{1,80}$/.exec(name)?.[0];
  return number === undefined ? `${name} 2` : `${name.slice(0, -number.length)}${String(Number(number) + 1).padStart(number.length, '0')}`;
}

function portOn(document: ProjectDocument, line: Line, template: DeviceTemplate, ids: { id: string; deviceId: string }): Outcome<Port> {
  const set = template.ports.find(({ kind }) => kind === line.kind);
  const asks = set?.kind === 'serial' && set['unitId'] === null;
  const blank = joiningPort(document, line, ids, asks);
  if (!set || !blank.ok) return blank;
  const place = Object.fromEntries(mediumOf(line.kind).ofPlace.map((key) => [key, (blank.value as Record<string, unknown>)[key]]));
  const parsed = Port.safeParse({ ...blank.value, ...set, ...place });
  return parsed.success ? good(parsed.data) : { ok: false, problem: schemaProblem(parsed.error) };
}

function bare<T extends object>(row: T, without: readonly string[]): Record<string, unknown> {
  return Object.fromEntries(Object.entries(row).filter(([key]) => !without.includes(key)));
}
