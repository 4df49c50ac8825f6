import type { SettingEvent } from '@plain-envoy/core/feed';
import { type Point, pointWidth, type ProjectDocument } from '@plain-envoy/core/model';
import type { Target } from '@plain-envoy/core/plan';
import { keptValue, type Snapshot, SnapshotBody } from '@plain-envoy/core/settings';
import { ownWay, readPoints, type RequestWay, writePoints } from '@plain-envoy/engine/settings';
import { until } from '@plain-envoy/engine/links';
import { openDial, type OwnPorts } from '@plain-envoy/engine/transports';
import type { Bench } from '../bench/index.js';
import type { Evidence } from '../evidence/index.js';
import { refuse } from '../problem/index.js';
import type { Held } from '../projects/index.js';
import { deviceOf, type Grounds, Ways } from '../prove/index.js';
import type { AskSettingsRead, AskSettingsWrite, AskSnapshot } from './asked.js';

export interface SettingsSurroundings extends OwnPorts, Grounds {
  bench: Bench;
  evidence: Evidence;
}

/** Settings of devices, read and written on the stand-ins or, where a person has armed it, on the real plant; and what devices held, kept. */
export class Settings {
  private readonly ways: Ways;

  constructor(private readonly around: SettingsSurroundings) {
    this.ways = new Ways(around);
  }

  read({ document }: Pick<Held, 'document'>, { on, deviceId, pointIds, everyMs }: AskSettingsRead): AsyncGenerator<SettingEvent> {
    deviceOf(document, deviceId);
    this.ways.allow(document, on, 'read');
    const points = pointIds.map((id) => pointOf(document, deviceId, id, ['pointIds']));
    const once = (way: RequestWay) => readPoints({ document, deviceId }, points, way);
    return this.going(document, on, deviceId, everyMs === null ? once : (way) => again(() => once(way), everyMs));
  }

  /** Writes and reads back. What came of each is kept with what was done by hand. */
  async *write({ document, revision }: Held, { on, deviceId, values }: AskSettingsWrite): AsyncGenerator<SettingEvent> {
    const device = deviceOf(document, deviceId);
    this.ways.allow(document, on, 'write');
    this.around.bench.allowByHand(on);
    const wanted = values.map(({ pointId, words }, index) => {
      const point = pointOf(document, deviceId, pointId, ['values', String(index), 'pointId']);
      if (words.length !== pointWidth(point)) refuse('does-not-fit', `${point.name} takes ${pointWidth(point)} registers.`, ['values']);
      return { point, words };
    });
    const done: string[] = [];
    const held = { yes: 0, no: 0 };
    try {
      for await (const event of this.going(document, on, deviceId, (way) => writePoints({ document, deviceId }, wanted, way))) {
        if (event.kind === 'written') {
          held[event.state === 'holds' ? 'yes' : 'no'] += 1;
          done.push(event.sentence);
        }
        yield event;
      }
    } finally {
      const where = on === 'real' ? 'on the real plant' : 'on the stand-ins';
      const failed = held.no ? `, ${held.no} did not become what they should` : '';
      const sentence = `${device.name}: ${held.yes} of ${values.length} settings were written and read back${failed} (${where}).`;
      if (done.length) await this.around.evidence.keep(document.project.id, 'hand', deviceId, revision, { sentence, done });
    }
  }

  /** Reads everything of a device that can be read, and keeps it with its date; where it does not answer, nothing is kept. */
  async *snapshot({ document, revision }: Held, { on, deviceId, note }: AskSnapshot): AsyncGenerator<SettingEvent> {
    const device = deviceOf(document, deviceId);
    this.ways.allow(document, on, 'read');
    const points = document.points.filter((point) => point.deviceId === deviceId && point.access !== 'write');
    if (points.length === 0) refuse('does-not-fit', `${device.name} has no points that can be read.`, ['deviceId']);
    const byId = new Map(points.map((point) => [point.id, point]));
    const body: SnapshotBody = { device: device.name, note: note.trim(), on, values: [], unread: [] };
    for await (const event of this.going(document, on, deviceId, (way) => readPoints({ document, deviceId }, points, way))) {
      if (event.kind === 'held') body.values.push(keptValue(byId.get(event.pointId)!, event.words));
      if (event.kind === 'unread') body.unread.push({ name: byId.get(event.pointId)!.name, why: event.why });
      if (event.kind === 'done') {
        if (body.values.length === 0)
          return yield { kind: 'failed', sentence: `${device.name} let none of its points be read, so nothing was kept.` };
        const { id } = await this.around.evidence.keep(document.project.id, 'snapshot', deviceId, revision, SnapshotBody.parse(body));
        yield { kind: 'kept', snapshotId: id };
      }
      yield event;
    }
  }

  /** Those of a project, the newest first. */
  async snapshots(projectId: string): Promise<Snapshot[]> {
    const rows = await this.around.evidence.list(projectId, 'snapshot', MAX_SNAPSHOTS);
    return rows.flatMap(({ id, of, revision, atMs, by, body }): Snapshot[] => {
      const parsed = SnapshotBody.safeParse(body);
      return parsed.success ? [{ ...parsed.data, id, deviceId: of, revision, atMs, by }] : [];
    });
  }

  async forget(projectId: string, snapshotId: string): Promise<void> {
    if (!(await this.around.evidence.drop(projectId, 'snapshot', snapshotId))) refuse('not-there', 'This snapshot is not there any more.');
  }

  /** Among all that the bench does where it runs there; else over a connection of its own. */
  private async *going(
    document: ProjectDocument,
    on: Target,
    deviceId: string,
    events: (way: RequestWay) => AsyncGenerator<SettingEvent>,
  ): AsyncGenerator<SettingEvent> {
    const running = this.around.bench.wayFor(document, on, deviceId);
    if (running) return yield* this.ways.whileAllowed(document, on, events(running));
    const dial = this.ways.dial(this.ways.to(document, deviceId).endpoint, on);
    const way = ownWay(() => openDial(dial, this.around));
    try {
      yield* this.ways.whileAllowed(document, on, events(way), dial);
    } finally {
      way.close();
    }
  }
}

/** The same every `everyMs`, or as soon as it is done where that takes longer; it ends with the first that fails, and when nobody listens. */
async function* again(once: () => AsyncGenerator<SettingEvent>, everyMs: number): AsyncGenerator<SettingEvent> {
  for (let next = performance.now(); ; next = Math.max(next + everyMs, performance.now())) {
    await until(next);
    for await (const event of once()) {
      yield event;
      if (event.kind === 'failed') return;
    }
  }
}

const MAX_SNAPSHOTS = 500;

function pointOf({ points }: ProjectDocument, deviceId: string, id: string, path: string[]): Point {
  const point = points.find((each) => each.id === id && each.deviceId === deviceId);
  return point ?? refuse('not-there', 'This point is not of the device.', path);
}
