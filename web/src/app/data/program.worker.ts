/// <reference lib="webworker" />
import '@plain-envoy/core/formula';
import { compile } from '@plain-envoy/core/compile';
import { controllerProgram } from '@plain-envoy/core/controller-program';
import type { ProgramPart, ProjectDocument } from '@plain-envoy/core/model';

/** The program of which controller of a project is wanted, and in which form. */
export interface AskProgram {
  document: ProjectDocument;
  controllerId: string;
  portable: boolean;
}

/** The program of a controller as it is shown. */
export interface ShownProgram {
  parts: Record<ProgramPart, string>;
  name: string;
  requests: number;
  channels: number;
  routes: number;
  leftOut: { routeId: string; name: string; why: string }[];
  single: boolean;
}
export type ToldProgram = { program: ShownProgram } | { problem: string };

addEventListener('message', ({ data: { document, controllerId, portable } }: MessageEvent<AskProgram>) => {
  const controller = document.devices.find(({ id }) => id === controllerId)!;
  const made = controllerProgram(document, compile(document).plan, controller, { portable });
  const told: ToldProgram = made
    ? {
        program: {
          parts: made.parts,
          name: made.name,
          requests: made.requests.length,
          channels: made.channels.length,
          routes: made.routeIds.length,
          leftOut: made.leftOut,
          single: made.single,
        },
      }
    : { problem: `${controller.name} carries nothing, so it has no program.` };
  postMessage(told);
});
