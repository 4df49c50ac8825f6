import type { SerialSettings } from '@plain-envoy/core/line';
import { wiringOf } from '@plain-envoy/core/playing';
import type { DeviceRecording, Point, ProjectDocument } from '@plain-envoy/core/model';
import { bad, type Outcome } from '@plain-envoy/core/outcome';
import type { Reel } from '@plain-envoy/core/replay';
import { recordOf, type TraceEntry, type TraceRow } from '@plain-envoy/core/trace';
import type { Value } from '@plain-envoy/core/value';
import type { HeldWords, StandInState } from '@plain-envoy/core/feed';
import { type RefusalCode, refusals, refuse } from '../problem/index.js';

const PATIENCE_MS = 3000;

/** A device that plays a recording which its stand-in does not have yet. */
interface Lacking {
  deviceId: string;
  recording: DeviceRecording;
}

/** The stand-ins' control interface for one project, as the server uses it; there is no other way from here into a stand-in but Modbus. */
export class StandInsControl {
  private started: string | null = null;

  /** `port` is null where this start has no stand-ins. */
  constructor(
    private readonly port: number | null,
    private readonly token: string,
    private readonly projectId: string,
    /** They were started anew, and know nothing of the project. */
    private readonly onRestart: () => void = () => undefined,
    /** A recording that is attached to a device. */
    private readonly reelOf: (deviceId: string, recording: DeviceRecording) => Promise<Outcome<Reel>> = () =>
      Promise.resolve(bad('Recordings are not kept here.')),
  ) {}

  async list(): Promise<StandInState[]> {
    return this.port === null ? [] : ((await this.call('GET', '/stand-ins')) as StandInState[]);
  }

  hold(deviceId: string, body: unknown): Promise<unknown> {
    return this.call('PUT', `/stand-ins/${deviceId}/registers`, body);
  }

  release(deviceId: string, body: unknown): Promise<unknown> {
    return this.call('PUT', `/stand-ins/${deviceId}/release`, body);
  }

  cut(deviceId: string, body: unknown): Promise<unknown> {
    return this.call('PUT', `/stand-ins/${deviceId}/cut`, body);
  }

  faults(deviceId: string, body: unknown): Promise<unknown> {
    return this.call('PUT', `/stand-ins/${deviceId}/faults`, body);
  }

  reboot(deviceId: string, body: unknown): Promise<unknown> {
    return this.call('PUT', `/stand-ins/${deviceId}/reboot`, body);
  }

  /** Holds a value where this point is; the registers that make it up. */
  async drive(point: Point, value: Value): Promise<number[]> {
    return ((await this.call('PUT', `/stand-ins/${point.deviceId}/drive`, { point, value })) as { words: number[] }).words;
  }

  /** The image of a converter, in hex. */
  image(deviceId: string): Promise<unknown> {
    return this.call('GET', `/stand-ins/${deviceId}/image`);
  }

  /** Puts bytes into it by hand. */
  poke(deviceId: string, body: unknown): Promise<unknown> {
    return this.call('PUT', `/stand-ins/${deviceId}/image`, body);
  }

  /** What went over the lines of stand-ins after a number that was told before. */
  async traffic(after: number): Promise<{ last: number; entries: TraceEntry[] }> {
    const { last, rows } = (await this.call('GET', `/traffic?after=${after}`)) as { last: number; rows: TraceRow[] };
    return { last, entries: rows.map(recordOf) };
  }

  /** What is seen on a line of CAN. */
  canLine(lineId: string): Promise<unknown> {
    return this.call('GET', `/lines/${lineId}/can`);
  }

  /** What a control station has in its archive: of one point, or the last of all. */
  archive(deviceId: string, pointId: string | undefined): Promise<unknown> {
    return this.call('GET', `/stand-ins/${deviceId}/archive${pointId ? `?pointId=${pointId}` : ''}`);
  }

  /** Gives a command at it by hand. */
  command(deviceId: string, body: unknown): Promise<unknown> {
    return this.call('PUT', `/stand-ins/${deviceId}/command`, body);
  }

  /** Its last frames as a text. */
  async canLog(lineId: string, form: 'log' | 'csv'): Promise<string> {
    return ((await this.call('GET', `/lines/${lineId}/can.${form}`)) as { text: string }).text;
  }

  /** What the variables of the program of a device hold; none where it has no program. */
  async variables(deviceId: string): Promise<Record<string, unknown>> {
    return (await this.call('GET', `/stand-ins/${deviceId}/variables`)) as Record<string, unknown>;
  }

  /** What the stand-ins hold for these points; those without a stand-in are left out. */
  async look(points: readonly Point[]): Promise<HeldWords[]> {
    return (await this.call('PUT', '/look', { points })) as HeldWords[];
  }

  /** Sets the switches of all stand-ins as this project has them; resolves with the TCP port at which they listen in the place of 502. */
  async follow(document: ProjectDocument): Promise<number> {
    const { port, lacking } = (await this.call('PUT', '/wiring', wiringOf(document))) as { port: number; lacking: Lacking[] };
    for (const { deviceId, recording } of lacking)
      await this.call('PUT', `/stand-ins/${deviceId}/recording`, { of: recording, ...(await this.recorded(deviceId, recording)) });
    return port;
  }

  /** What a device is played from, as the stand-ins take it. */
  private async recorded(deviceId: string, recording: DeviceRecording): Promise<{ reel: Reel | null; problem: string | null }> {
    const reel = await this.reelOf(deviceId, recording);
    return reel.ok ? { reel: reel.value, problem: null } : { reel: null, problem: reel.problem.message };
  }

  /** They are no longer needed. */
  async leave(): Promise<void> {
    if (this.port !== null) await this.call('DELETE', '/wiring');
  }

  get areThere(): boolean {
    return this.port !== null;
  }

  /** Where an adapter to this line is reached, now that it is set like this. */
  async adapter(lineId: string, settings: SerialSettings): Promise<number> {
    return ((await this.call('PUT', `/lines/${lineId}/adapter`, settings)) as { port: number }).port;
  }

  private async call(method: 'GET' | 'PUT' | 'DELETE', path: string, body?: unknown): Promise<unknown> {
    if (this.port === null) refuse('not-now', 'No stand-ins were started with this server.');
    let response: Response;
    try {
      response = await fetch(`http://127.0.0.1:${this.port}/projects/${this.projectId}${path}`, {
        method,
        signal: AbortSignal.timeout(PATIENCE_MS),
        headers: { authorization: `Bearer ${this.token}`, ...(body === undefined ? {} : { 'content-type': 'application/json' }) },
        ...(body === undefined ? {} : { body: JSON.stringify(body) }),
      });
    } catch {
      refuse('no-stand-ins', 'The stand-ins do not answer; their process may have ended.');
    }
    const started = response.headers.get('x-started');
    if (this.started !== null && started !== this.started) this.onRestart();
    this.started = started;
    const answer = (await response.json()) as { error?: { message: string; path: string[] } };
    if (!response.ok) refuse(codeOf(response.status), answer.error?.message ?? 'The stand-ins refused this.', answer.error?.path);
    return answer;
  }
}

/** The stand-ins say by the status alone why not. */
function codeOf(status: number): RefusalCode {
  return (['not-there', 'does-not-fit', 'not-now'] as const).find((code) => refusals[code] === status) ?? 'no-stand-ins';
}
