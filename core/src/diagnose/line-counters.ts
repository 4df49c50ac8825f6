import { type Counters, type DeviceCounter, type DeviceCounters, deviceCounters, triesIn } from '../feed/index.js';
import { GATEWAY_PATH_UNAVAILABLE, GATEWAY_TARGET_FAILED } from '../frame/index.js';

/** What we have counted of our questions to a device, at one moment. */
export interface OurCounters {
  /** Questions that went out, tries each for itself. */
  sent: number;
  noAnswer: number;
  damaged: number;
  /** Exceptions of the device itself; those of the gateway in front of it count as no answer. */
  exceptions: number;
}

/** What a device and we have counted at the same moment. */
export interface CountersSeen {
  its: DeviceCounters;
  ours: OurCounters;
}

/** What has come since the first look, on both sides, and who saw what go wrong. */
export interface Compared {
  /** By how much each of its counters has grown; null where it has none, or has begun anew. */
  its: Record<DeviceCounter, number | null>;
  ours: OurCounters;
  sentences: string[];
  /** Something went wrong in between. */
  isTrouble: boolean;
}

/** Counters go round after this many (V1.1b3, 6.8.1). */
const ROUND = 65_536;
/** Growth past this in the time between two looks is none: the counter has begun anew. */
const BEGUN_ANEW = ROUND / 2;
/** Questions that are under way while both are looked at. */
const UNDER_WAY = 3;
const TOLERANCE = 0.01;

export function ourCounters(counters: Counters): OurCounters {
  const { [GATEWAY_PATH_UNAVAILABLE]: noPath = 0, [GATEWAY_TARGET_FAILED]: silent = 0, ...own } = counters.exceptions;
  const exceptions = Object.values(own).reduce((sum, count) => sum + count, 0);
  return { sent: triesIn(counters), noAnswer: counters.noAnswer + noPath + silent, damaged: counters.damaged, exceptions };
}

/** Lays what a device has counted of its communication beside what we have, since a first look: who saw the damage. */
export function compareCounters(first: CountersSeen, last: CountersSeen): Compared {
  const keys = Object.keys(deviceCounters) as DeviceCounter[];
  const its = Object.fromEntries(keys.map((key) => [key, grown(first.its[key], last.its[key])])) as Compared['its'];
  const since = (key: keyof OurCounters) => last.ours[key] - first.ours[key];
  const ours = { sent: since('sent'), noAnswer: since('noAnswer'), damaged: since('damaged'), exceptions: since('exceptions') };
  if (keys.some((key) => (its[key] ?? 0) > BEGUN_ANEW)) {
    const none = Object.fromEntries(keys.map((key) => [key, null])) as Compared['its'];
    const why = 'It has begun to count anew meanwhile: it was switched off and on, or somebody cleared its counters. Begin anew here too.';
    return { its: none, ours, sentences: [why], isTrouble: true };
  }
  const found = [damageAtIt, notAtIt, notAnswered, notBack, exceptionsSeen, tooSlow].flatMap((look) =>
    look(its, ours, questionsOf(last.its)),
  );
  if (found.length > 0) return { its, ours, sentences: found, isTrouble: true };
  const sentence = `It and we agree: ${ours.sent} questions, none damaged on the way to it, and none of its answers lost.`;
  return { its, ours, sentences: [sentence], isTrouble: false };
}

function grown(from: number | null, to: number | null): number | null {
  return from === null || to === null ? null : (to - from + ROUND) % ROUND;
}

/** Each look asks so many questions of its own, one for each counter. */
function questionsOf(its: DeviceCounters): number {
  return (Object.keys(deviceCounters) as DeviceCounter[]).filter((key) => its[key] !== null).length;
}

type Look = (its: Compared['its'], ours: OurCounters, questions: number) => string[];

const damageAtIt: Look = ({ damaged }, { noAnswer }) => {
  if (!damaged) return [];
  const so = noAnswer > 0 ? ` It answers none of these: ${noAnswer} of our questions got no answer.` : '';
  return [
    `It heard ${damaged} damaged messages: they are spoilt on the way to it, by noise, a bad termination, or other settings of somebody who speaks there.${so}`,
  ];
};

/** How many of our questions did not get there as sound messages to it; below 0 where more did than we sent. */
function missing({ toIt }: Compared['its'], { sent }: OurCounters, questions: number): number | null {
  if (toIt === null) return null;
  const difference = sent + questions - toIt;
  return Math.abs(difference) <= Math.max(UNDER_WAY, sent * TOLERANCE) ? 0 : difference;
}

const notAtIt: Look = (its, ours, questions) => {
  const lost = missing(its, ours, questions);
  if (lost === null || lost === 0) return [];
  return lost > 0
    ? [`${lost} of our ${ours.sent} questions did not get to it as sound messages: look at the way there, not at the device.`]
    : [`It was asked ${-lost} times more than we asked: somebody else asks it too, or means another device by its unit ID.`];
};

const notAnswered: Look = ({ unanswered }, { noAnswer }) => {
  if (!unanswered || noAnswer === 0) return [];
  return [
    `It did not answer ${unanswered} messages to it, as it says itself, broadcasts among them: look at the device, or how often it is asked.`,
  ];
};

const notBack: Look = (its, ours, questions) => {
  const gone = ours.noAnswer + ours.damaged - (its.unanswered ?? 0);
  if (gone <= 0 || its.damaged || missing(its, ours, questions) !== 0) return [];
  return [
    `It heard all our questions, none of them damaged, but we missed ${gone} of its answers: they are lost or damaged on their way back, or come too late.`,
  ];
};

const exceptionsSeen: Look = ({ exceptions }, ours) => {
  if (exceptions === null || Math.abs(exceptions - ours.exceptions) <= UNDER_WAY) return [];
  return [`It refused ${exceptions} times, and we saw ${ours.exceptions}: the others were answers to somebody else, or did not get back.`];
};

const tooSlow: Look = ({ overruns, busy, notTaken }) => [
  ...(overruns ? [`${overruns} characters came faster than it takes them: a lower baud rate helps.`] : []),
  ...(busy ? [`It was too busy for ${busy} messages: ask it less often.`] : []),
  ...(notTaken ? [`It could not take ${notTaken} messages.`] : []),
];
