/// <reference lib="webworker" />
import { type HeardRequest, type KeptMap, overhear } from '@plain-envoy/core/overheard';
import { fileOf } from '@plain-envoy/core/project-file';
import { v7 as newId } from 'uuid';

/** A question as it is shown: without all that came back. */
export type ToldRequest = Omit<HeardRequest, 'samples'>;

/** What a recording was made into: the project as a file, and what it says of it. */
export type ToldRecording =
  | {
      kind: 'heard';
      file: string;
      exchanges: number;
      lastedMs: number | null;
      devices: number;
      points: number;
      remarks: string[];
      requests: ToldRequest[];
    }
  | { kind: 'failed'; sentence: string };

/** A recording, the name of the project that is made of it, and devices that are kept. */
export interface AskRecording {
  bytes: ArrayBuffer;
  name: string;
  kept: readonly KeptMap[];
}

/** Listens to one recording. */
addEventListener('message', ({ data }: MessageEvent<AskRecording>) => {
  const heard = overhear(new Uint8Array(data.bytes), data.name, newId, data.kept);
  if (!heard.ok) return postMessage({ kind: 'failed', sentence: heard.problem.message } satisfies ToldRecording);
  const { document, remarks, exchanges, lastedMs, requests } = heard.value;
  const controllers = new Set(document.devices.filter(({ kind }) => kind === 'controller').map(({ id }) => id));
  postMessage({
    kind: 'heard',
    file: JSON.stringify(fileOf(document, 1, [])),
    ...{ exchanges, lastedMs, remarks },
    devices: document.devices.filter(({ kind }) => kind === 'field').length,
    points: document.points.filter(({ deviceId }) => !controllers.has(deviceId)).length,
    requests: requests.map(({ samples, ...told }) => told),
  } satisfies ToldRecording);
});
