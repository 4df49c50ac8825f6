import type { BenchState } from '@plain-envoy/core/feed';
import type { Project, ProjectDocument } from '@plain-envoy/core/model';
import type { UnfinishedEntry } from './unfinished.js';

/** How a run of the bench is written down while it goes on, and when Plain Envoy is ended in good order while it does. */
export interface BenchNote {
  on: BenchState['on'];
  sinceMs: number;
  /** Whether the run itself was taken up after a breakdown. */
  tookUp: boolean;
  endedMs: number | null;
  /** What a person did to it: routes that were forced, values that moved. */
  byHand: string[];
}

/** A run that was taken up and broke down again within so long is not taken up once more. */
const AGAIN_MS = 60_000;

/** What becomes of a run that the last start left: whether it goes on, and what is said of it. */
export function takeUp(
  { atMs, body }: UnfinishedEntry,
  { project }: ProjectDocument,
  nowMs: number,
): { goesOn: boolean; sentence: string } {
  const note = body as unknown as BenchNote;
  const byHand = note.byHand.length
    ? ` What was done by hand has ended, and its last values stay where they were written: ${note.byHand.join('; ')}.`
    : '';
  const { goesOn, sentence } = fateOf(note, project, atMs, nowMs);
  return { goesOn, sentence: `${sentence}${byHand}` };
}

function fateOf(note: BenchNote, project: Project, atMs: number, nowMs: number): { goesOn: boolean; sentence: string } {
  const where = note.on === 'real' ? 'the real plant' : 'stand-ins';
  if (note.endedMs !== null)
    return { goesOn: false, sentence: `The bench ran ${project.name} on ${where} when Plain Envoy was ended at ${clock(note.endedMs)}.` };
  const what = `The server broke down while the bench ran ${project.name} on ${where}`;
  if (note.on === 'real') return { goesOn: false, sentence: `${what}. Nothing is asked or written there until a person arms it again.` };
  if (!project.resumes) return { goesOn: false, sentence: `${what}. It was not taken up, as the project has it.` };
  if (note.tookUp && nowMs - atMs < AGAIN_MS)
    return { goesOn: false, sentence: `${what}, which had been taken up after a breakdown just before. It is not taken up once more.` };
  return { goesOn: true, sentence: `${what}. At ${clock(nowMs)} it was taken up again.` };
}

function clock(ms: number): string {
  return new Date(ms).toTimeString().slice(0, 8);
}
