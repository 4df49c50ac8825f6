import { type CarriedStation, stationsOn } from '../stations/index.js';
import type { ProjectDocument } from '../model/index.js';
import { lastsMs } from '../telecontrol/index.js';
import type { StationPortState } from '../telecontrol-line/index.js';
import type { Place } from './case.js';
import type { Diagnosis } from './diagnose.js';

type Why = { cause: string; sentence: string; evidence: string; at: Place };
type Now = StationPortState | undefined;

/** A clock that is further off than this is wrong, not late. */
const CLOCK_OFF_MS = 5000;
/** So many cuts, at so many a minute, are no chance. */
const [MANY_CUTS, CUTS_A_MINUTE] = [3, 1];
/** From this share on of events that came again it is told, of at least so many. */
const [AGAIN, ENOUGH] = [0.05, 20];

/**
 * The same of telecontrol links, by how both ends stand: `stateOf` gives that by the id of a port, and for a control station by which of its
 * outstations it is about, where it is known.
 */
export function diagnoseStations(
  document: ProjectDocument,
  stateOf: (portId: string, index: number) => StationPortState | undefined,
): Diagnosis[] {
  return document.lines.flatMap(({ id }) =>
    stationsOn(document, id).flatMap((station, index): Diagnosis[] => {
      const { control, outstation } = station;
      if (!control || !outstation) return [];
      const [asks, answers] = [stateOf(control.portId, index), stateOf(outstation.portId, 0)];
      const why = asks || answers ? whyOf(station, control, outstation, asks, answers) : null;
      if (!why) return [];
      const far = station.points.some(({ deviceId }) => deviceId === outstation.deviceId) ? outstation : control;
      const seen = asks ? `${asks.heard} frames of ${outstation.name} came.` : `${control.name} is not there.`;
      return [
        {
          ...{ deviceId: far.deviceId, name: far.name, seen, test: null },
          causes: [{ ...why, more: [], against: [], likelihood: 1 }],
        },
      ];
    }),
  );
}

type End = NonNullable<CarriedStation['control']>;

function whyOf({ line, points }: CarriedStation, control: End, outstation: End, asks: Now, answers: Now): Why | null {
  const [atControl, atOutstation] = [control, outstation].map(({ portId }): Place => ({ entity: 'port', id: portId })) as [Place, Place];
  const atLine: Place = { entity: 'line', id: line.id };
  if (!asks)
    return {
      cause: 'nobody-calls',
      sentence: `Nobody calls ${outstation.name}: ${control.name} is off or not connected.`,
      evidence: `${outstation.name} listens.`,
      at: atControl,
    };
  if (!answers || !asks.isConnected)
    return {
      cause: 'station-away',
      sentence: `${control.name} calls ${outstation.name} and gets no connection: it is off, not connected, or listens elsewhere.`,
      evidence: asks.problem ?? 'No connection was ever open.',
      at: atOutstation,
    };
  const foreign = asks.strange + answers.strange;
  if (foreign > 0 && asks.points.every(({ isGood }) => !isGood))
    return {
      cause: 'wrong-address',
      sentence: `The connection of ${control.name} to ${outstation.name} is open, and what goes over it is for other addresses: one of them is set to another than ${line.standard === 'ieee1815' ? `${control.address} and ${outstation.address}` : outstation.address}.`,
      evidence: `${foreign} frames were for somebody else.`,
      at: atOutstation,
    };
  const minutes = asks.upMs / 60_000;
  if (asks.cuts >= MANY_CUTS && asks.cuts / minutes >= CUTS_A_MINUTE) {
    const why = answers.problem ?? asks.problem;
    const isSkipped = why !== null && /missing|receipt/i.test(why);
    return {
      cause: isSkipped ? 'numbers-skipped' : 'link-cut',
      sentence: isSkipped
        ? `${line.name} is cut again and again because frames are missing, or confirmed that were never sent: something between loses or doubles them, or an end counts wrong.`
        : `${line.name} is cut again and again, ${asks.cuts} times in ${Math.max(1, Math.round(minutes))} min: the network between is poor, or an end restarts.`,
      evidence: why ?? 'Neither end says why.',
      at: atLine,
    };
  }
  const wrong = [
    { end: control, now: asks, at: atControl },
    { end: outstation, now: answers, at: atOutstation },
  ].find(({ now }) => Math.abs(now.clockAheadMs) > CLOCK_OFF_MS);
  if (wrong)
    return {
      cause: 'clock-off',
      sentence: `The clock of ${wrong.end.name} is ${spanText(Math.abs(wrong.now.clockAheadMs))} ${wrong.now.clockAheadMs > 0 ? 'ahead' : 'behind'}, and so are the times of the events${wrong.end === control ? ', because it sets the other by its own' : ''}.`,
      evidence:
        Math.abs(Math.abs(wrong.now.clockAheadMs) - 3_600_000) < 60_000
          ? 'It is an hour: its zone, or summer time, is set as if the time on the link were local. It is UTC.'
          : 'Both ends were compared with the clock of this machine.',
      at: wrong.at,
    };
  if (answers.thrownAway > 0 || answers.isFull) {
    const lasts = answers.eventsPerHour === null ? null : lastsMs(answers.memory, answers.eventsPerHour);
    return {
      cause: 'events-lost',
      sentence: `${outstation.name} has thrown ${answers.thrownAway} events away unsent, the oldest first: it keeps ${answers.memory}, and its link was down for longer than that lasts.`,
      evidence: lasts === null ? '' : `At the rate that was seen it lasts ${spanText(lasts)}.`,
      at: atOutstation,
    };
  }
  if (asks.archived >= ENOUGH && asks.again / asks.archived >= AGAIN)
    return {
      cause: 'confirms-lost',
      sentence: `${asks.again} events came to ${control.name} more than once: confirmations of it do not reach ${outstation.name}. The archive has each once.`,
      evidence: `${asks.archived} are in the archive.`,
      at: atLine,
    };
  const refused = [...asks.commands].reverse().find(({ end }) => end === 'refused' || end === 'no answer');
  if (refused) {
    const name = points.find(({ id }) => id === refused.pointId)?.name ?? 'A command';
    return {
      cause: refused.end === 'refused' ? 'command-refused' : 'command-unanswered',
      sentence:
        refused.end === 'refused'
          ? `${outstation.name} refuses ${name}: it does not know the command there, wants it selected first, or cannot do it.`
          : `${outstation.name} does not answer the command ${name}.`,
      evidence: `It was ${Number.isNaN(refused.said) ? 'past what can be said' : refused.said}.`,
      at: atOutstation,
    };
  }
  return null;
}

/** `1 h 0 min`, `4 min`, `12 s`. */
function spanText(ms: number): string {
  const s = Math.round(ms / 1000);
  if (s < 60) return `${s} s`;
  const minutes = Math.round(s / 60);
  return minutes < 60 ? `${minutes} min` : `${Math.floor(minutes / 60)} h ${minutes % 60} min`;
}
