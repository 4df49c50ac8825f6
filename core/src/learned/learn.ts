import { literalOf, type PlayedPoint, writeBehaviour, writeLines } from '../behaviours/index.js';
import { bad, good, type Outcome } from '../outcome/index.js';
import { variablesOf } from '../playing/index.js';
import { LONGEST_PROGRAM } from '../program/index.js';
import { type History, historiesOf, type Observed } from './history.js';
import type { Found } from './movement.js';
import { movements } from './movements/list.js';

/** What was learned of one point. */
export interface Learned {
  name: string;
  variable: string;
  /** How it was seen to move, as a sentence without its name. */
  says: string;
  moves: boolean;
}

/** What was learned of a device, and a program by which its stand-in behaves alike. */
export interface Lesson {
  learned: Learned[];
  /** Points of which nothing was seen. */
  unseen: string[];
  program: string;
  remarks: string[];
}

/**
 * Learns from what the registers of a device were seen to hold: what each point begins with, and how those move that did. A problem
 * where nothing was seen of any of its points.
 */
export function learn(points: readonly PlayedPoint[], observed: readonly Observed[]): Outcome<Lesson> {
  const variables = variablesOf(points);
  const histories = historiesOf(variables, observed);
  if (histories.length === 0) return bad('Nothing was seen of any point of this device.');
  const found = new Map<History, Found>();
  for (const history of histories) {
    const moves = isStill(history) ? null : firstOf(history, histories);
    if (moves) found.set(history, moves);
  }
  // Who is told by a master where to go does not go there by itself.
  const telling = new Set([...found.values()].map(({ toldBy }) => toldBy));
  for (const history of [...found.keys()]) if (telling.has(history.variable.name)) found.delete(history);
  const isTold = ({ told, variable }: History) => told || telling.has(variable.name);
  const seen = new Set(histories.map(({ variable }) => variable.name));
  const { program, left } = write(points, histories, found);
  const isTimeless = histories.every((history) => history.seen.length === 0 && history.values.length > 1);
  return good({
    learned: histories.map((history) => ({
      name: history.variable.point.name,
      variable: history.variable.name,
      says:
        found.get(history)?.says ??
        (isStill(history) ? 'stood still' : isTold(history) ? 'is told by a master' : 'moved; how is not known'),
      moves: found.has(history),
    })),
    unseen: variables.filter(({ name }) => !seen.has(name)).map(({ point }) => point.name),
    program,
    remarks: [
      ...(isTimeless ? ['Nothing is known of when it was, so nothing of how fast anything moves.'] : []),
      ...(left ? [`${left} points more would make the program longer than ${LONGEST_PROGRAM} characters; they are left out.`] : []),
    ],
  });
}

function isStill({ values }: History): boolean {
  return values.every((value) => Object.is(value, values[0]));
}

function firstOf(history: History, all: readonly History[]): Found | null {
  if (history.told || history.seen.length < 2) return null;
  for (const movement of movements) {
    const found = movement.find(history, all);
    if (found) return found;
  }
  return null;
}

/** A program by which all of them move as was found, as far as it does not get too long; and how many points that leaves out. */
function write(
  points: readonly PlayedPoint[],
  histories: readonly History[],
  found: ReadonlyMap<History, Found>,
): { program: string; left: number } {
  let text = '';
  let left = 0;
  const begins = histories.filter((history) => found.get(history)?.begins ?? true);
  const first = begins.map(({ variable, values }) => `  ${variable.name} := ${literalOf(variable.type, values[0])};`);
  const fitting = fittingLines(first, LONGEST_PROGRAM / 2);
  left += first.length - fitting.length;
  if (fitting.length) {
    const begun = writeLines(text, points, 'As it was first seen', (own) => {
      const name = own('begun');
      return { declare: [`${name} : BOOL;`], lines: [`IF NOT ${name} THEN`, `  ${name} := TRUE;`, ...fitting, 'END_IF;'] };
    });
    if (begun.ok) text = begun.value;
  }
  for (const [history, { moves, says }] of found) {
    const title = `${history.variable.name} ${says}`;
    const longer =
      moves.by === 'behaviour'
        ? writeBehaviour(text, moves.behaviour, points, moves.said, title)
        : writeLines(text, points, title, moves.write);
    if (longer.ok && longer.value.length <= LONGEST_PROGRAM) text = longer.value;
    else left += 1;
  }
  return { program: text, left };
}

function fittingLines(lines: readonly string[], most: number): string[] {
  let length = 0;
  return lines.filter((line) => (length += line.length + 3) <= most);
}
