/// <reference lib="webworker" />
import type { PlayedPoint } from '@plain-envoy/core/behaviours';
import { learn, type Lesson, type Observed, observedIn } from '@plain-envoy/core/learned';
import { type Recorded, type Speaker, speakersIn } from '@plain-envoy/core/replay';
import { readRecording } from '@plain-envoy/core/trace';

/** Who is in a recording, or what is learned of a device from one or from what was read of it. */
export type AskLearning =
  | { kind: 'speakers'; bytes: ArrayBuffer }
  | { kind: 'recording'; bytes: ArrayBuffer; who: Recorded; points: readonly PlayedPoint[] }
  | { kind: 'observed'; observed: readonly Observed[]; points: readonly PlayedPoint[] };

export type ToldLearning =
  { kind: 'speakers'; speakers: Speaker[] } | { kind: 'lesson'; lesson: Lesson } | { kind: 'failed'; sentence: string };

addEventListener('message', ({ data }: MessageEvent<AskLearning>) => postMessage(answerTo(data)));

function answerTo(ask: AskLearning): ToldLearning {
  if (ask.kind === 'observed') return lessonOf(ask.points, ask.observed);
  const read = readRecording(new Uint8Array(ask.bytes));
  if (!read.ok) return { kind: 'failed', sentence: read.problem.message };
  if (ask.kind === 'recording') {
    const observed = observedIn(read.value, ask.who);
    return observed.ok ? lessonOf(ask.points, observed.value) : { kind: 'failed', sentence: observed.problem.message };
  }
  const speakers = speakersIn(read.value);
  return speakers.length ? { kind: 'speakers', speakers } : { kind: 'failed', sentence: 'Nobody answers in this recording.' };
}

function lessonOf(points: readonly PlayedPoint[], observed: readonly Observed[]): ToldLearning {
  const lesson = learn(points, observed);
  return lesson.ok ? { kind: 'lesson', lesson: lesson.value } : { kind: 'failed', sentence: lesson.problem.message };
}
