/// <reference lib="webworker" />
import type { ProjectDocument } from '@plain-envoy/core/model';
import { compile } from '@plain-envoy/core/plan';

addEventListener('message', ({ data }: MessageEvent<{ serial: number; document: ProjectDocument }>) => {
  postMessage({ serial: data.serial, ...compile(data.document) });
});
