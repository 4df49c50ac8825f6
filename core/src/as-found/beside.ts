import { type Device, type Point, pointWidth, type ProjectDocument, readPoint, valueText } from '../model/index.js';
import { type Identification, identificationNames } from '../identity/index.js';
import { type Verdict, verdictOn, wantedWords } from '../settings/index.js';
import { typeOf } from '../types/index.js';
import { matchFound } from './match.js';
import { whereAsked } from './where-asked.js';
import type { Observed, ObservedDevice, ObservedLine, WalkStep } from './observed.js';

/** What of a found thing can become the design: what a setting holds, or a text that a device says of itself. */
export type Takeable =
  { kind: 'setting'; pointId: string; words: readonly number[] } | { kind: 'identity'; key: keyof Identification; text: string };

/** How a thing was found: `unknown` where it was not to be seen, `left open` where the design does not say what it should be. */
export type FoundVerdict = Verdict | 'left open';

/** One thing of a device or a line, as it is designed and as it was found. */
export interface FoundRow {
  id: string;
  sort: 'way' | 'identity' | 'setting' | 'register' | 'place';
  what: string;
  designed: string;
  found: string;
  verdict: FoundVerdict;
  takes: Takeable | null;
}

const NOTHING = 'not said';
const WAY = { id: 'way', sort: 'way', what: 'Where it is asked', takes: null } as const;

/** Lays what was seen of a device or a line beside what a revision of the project says of it. */
export function foundBeside(document: ProjectDocument, of: string, observed: Observed): FoundRow[] {
  return observed.kind === 'device' ? ofDevice(document, of, observed) : ofLine(document, of, observed);
}

/** `3 differ, 1 not known`; `as designed` where nothing that the design says is otherwise. */
export function foundTally(rows: readonly FoundRow[]): string {
  const count = (verdict: FoundVerdict) => rows.filter((row) => row.verdict === verdict).length;
  const [differs, unknown] = [count('differs'), count('unknown')];
  const parts = [...(differs ? [`${differs} ${differs === 1 ? 'differs' : 'differ'}`] : []), ...(unknown ? [`${unknown} not known`] : [])];
  return parts.join(', ') || 'as designed';
}

function ofDevice(document: ProjectDocument, deviceId: string, observed: ObservedDevice): FoundRow[] {
  const device = document.devices.find(({ id }) => id === deviceId);
  if (!device) return [{ ...WAY, designed: 'it is not in this revision', found: observed.asked, verdict: 'differs' }];
  const asked = whereAsked(document, deviceId);
  if (!asked.ok) return [{ ...WAY, designed: asked.problem.message, found: 'not asked', verdict: 'unknown' }];
  if (asked.value !== observed.asked) {
    const found = observed.asked ? `It was asked as ${observed.asked}.` : 'It was not asked.';
    return [{ ...WAY, designed: asked.value, found: `${found} Look again.`, verdict: 'unknown' }];
  }
  return [
    { ...WAY, designed: asked.value, found: 'asked there', verdict: 'same' },
    ...ofWalk(document, device, observed),
    ...ofIdentity(device, observed),
    ...ofRegisters(document, deviceId, observed),
  ];
}

/** Steps of a walk that compare with something of the design; the others only lead there. */
const steps: Partial<Record<WalkStep['name'], { what: string; designed(openAtOnce: number): string }>> = {
  connect: { what: 'Connection', designed: () => 'taken' },
  answer: { what: 'Answer', designed: () => 'given' },
  open: { what: 'Questions at a time', designed: (openAtOnce) => String(openAtOnce) },
};

function ofWalk({ ports, points }: ProjectDocument, { id, kind }: Device, { steps: walked, ended }: ObservedDevice): FoundRow[] {
  const port = ports.find((one) => one.deviceId === id && one.kind === 'ethernet');
  const atOnce = port?.kind === 'ethernet' ? port.openTransactions : 1;
  // A gateway without registers of its own only has to be there.
  const onlyPasses = kind === 'gateway' && !points.some(({ deviceId }) => deviceId === id);
  const rows = walked.flatMap(({ name, passed, sentence }): FoundRow[] => {
    const step = onlyPasses && name !== 'connect' ? undefined : steps[name];
    if (!step) return [];
    const row = { id: name, sort: 'way' as const, what: step.what, designed: step.designed(atOnce), found: sentence };
    return [{ ...row, verdict: passed ? 'same' : 'differs', takes: null }];
  });
  const isSaid = ended === null || walked.some(({ sentence }) => sentence === ended);
  if (isSaid) return rows;
  return [...rows, { id: 'end', sort: 'way', what: 'Asked to the end', designed: 'yes', found: ended, verdict: 'unknown', takes: null }];
}

function ofIdentity({ identification: designed }: Device, { identification: found, steps: walked }: ObservedDevice): FoundRow[] {
  const told = walked.find(({ name }) => name === 'identify');
  return identificationNames.flatMap(([key, name]): FoundRow[] => {
    const [wanted, says] = [designed[key].trim(), found?.[key].trim() ?? ''];
    if (!wanted && !says) return [];
    const row = { id: key, sort: 'identity' as const, what: `Its ${name}`, designed: wanted || NOTHING };
    if (!found) return [{ ...row, found: told?.sentence ?? 'not asked', verdict: 'unknown', takes: null }];
    const verdict = wanted === says ? 'same' : wanted ? 'differs' : 'left open';
    return [{ ...row, found: says || NOTHING, verdict, takes: verdict === 'same' || !says ? null : { kind: 'identity', key, text: says } }];
  });
}

function ofRegisters(document: ProjectDocument, deviceId: string, observed: ObservedDevice): FoundRow[] {
  const registers = registersOf(observed);
  const points = document.points.filter((point) => point.deviceId === deviceId && point.access !== 'write');
  const readable = points.filter((point) => point.setting === null && (registers.words(point) || registers.refusal(point) !== null));
  const refused = readable.filter((point) => !registers.words(point));
  const all: FoundRow = {
    ...{ id: 'map', sort: 'register', what: 'Register map', takes: null },
    designed: `${readable.length} to be read`,
    found: `${readable.length - refused.length} read`,
    verdict: refused.length ? 'differs' : 'same',
  };
  return [
    ...points.filter(({ setting }) => setting !== null).map((point) => ofSetting(point, registers)),
    ...(readable.length ? [all] : []),
    ...refused.map((point): FoundRow => ({
      ...{ id: point.id, sort: 'register', what: point.name, designed: 'can be read', found: registers.refusal(point)! },
      ...{ verdict: 'differs', takes: null },
    })),
    ...readable.flatMap((point) => ofOddValue(point, registers.words(point))),
  ];
}

function ofSetting(point: Point, { words, refusal }: Registers): FoundRow {
  const [wanted, held] = [wantedWords(point), words(point)];
  const row = { id: point.id, sort: 'setting' as const, what: point.name };
  const designed = !wanted.ok ? wanted.problem.message : wanted.value ? valueText(wanted.value, point) : 'not decided';
  if (!held) return { ...row, designed, found: refusal(point) ?? 'not read', verdict: refusal(point) ? 'differs' : 'unknown', takes: null };
  const isOpen = wanted.ok && wanted.value === null;
  const verdict = isOpen ? 'left open' : verdictOn(point, wanted.ok ? wanted.value : null, held);
  const takes: Takeable | null = verdict === 'same' ? null : { kind: 'setting', pointId: point.id, words: held };
  return { ...row, designed, found: valueText(held, point), verdict, takes };
}

/** A value that cannot be what the map says: no number, or a code that it does not name. */
function ofOddValue(point: Point, words: readonly number[] | null): FoundRow[] {
  if (!words) return [];
  const read = readPoint(words, point);
  const row = { id: `${point.id} value`, sort: 'register' as const, what: point.name, verdict: 'differs' as const, takes: null };
  if (!read.ok) return [{ ...row, designed: `a value of the type ${point.type}`, found: read.problem.message }];
  const { raw } = read.value;
  if (typeOf(point.type).kind === 'float' && typeof raw !== 'number') return [{ ...row, designed: 'a number', found: String(raw) }];
  if (point.codes.length === 0 || point.codes.some(({ value }) => value === Number(raw))) return [];
  const names = point.codes.map(({ value, name }) => `${value} ${name}`);
  return [{ ...row, designed: `one of ${names.join(', ')}`, found: `${String(raw)}, which has no name` }];
}

interface Registers {
  /** What a point holds; null where not all of it was read. */
  words(point: Point): number[] | null;
  /** Why the device did not let it be read; null where it did, or was not asked. */
  refusal(point: Point): string | null;
}

/** By where they lie, so that a revision which has a point elsewhere is told nothing of what lies there. */
function registersOf({ held, refused }: ObservedDevice): Registers {
  const words = new Map<string, number>();
  for (const { table, offset, words: row } of held)
    for (const [index, word] of row.entries()) words.set(`${table} ${offset + index}`, word);
  const refusals = new Map(refused.map(({ table, offset, why }) => [`${table} ${offset}`, why]));
  return {
    words: (point) => {
      const row = Array.from({ length: pointWidth(point) }, (_, index) => words.get(`${point.table} ${point.offset + index}`));
      return row.every((word) => word !== undefined) ? row : null;
    },
    refusal: ({ table, offset }) => refusals.get(`${table} ${offset}`) ?? null,
  };
}

function ofLine(document: ProjectDocument, lineId: string, { places, swept, ended }: ObservedLine): FoundRow[] {
  const line = document.lines.find(({ id }) => id === lineId);
  const whole = { id: 'swept', sort: 'place' as const, what: 'Who is there', takes: null };
  if (!line) return [{ ...whole, designed: 'the line is not in this revision', found: `${places.length} answer`, verdict: 'differs' }];
  const ports = document.ports.filter((port) => port.lineId === lineId);
  const names = new Map(document.devices.map(({ id, name }) => [id, name]));
  const matches = matchFound(line, ports, ({ deviceId }) => names.get(deviceId) ?? '', places, swept);
  return [
    ...(ended === null ? [] : [{ ...whole, designed: '', found: ended, verdict: 'unknown' as const }]),
    ...matches.map(({ place, state, device, sentence, identity }): FoundRow => ({
      ...{ id: place, sort: 'place', what: place, designed: device || 'nobody', takes: null },
      found: identity ? `${sentence}; it says of itself: ${identity}` : sentence,
      // What came to no end may have told of one as it is not.
      verdict: state === 'there' ? 'same' : ended !== null && state !== 'unexpected' ? 'unknown' : 'differs',
    })),
  ];
}
