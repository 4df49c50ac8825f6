import type { BookChapter } from '../model/index.js';
import type { Chapter } from './definition.js';
import { findings } from './chapters/findings.js';
import { found } from './chapters/found.js';
import { lines } from './chapters/lines.js';
import { losses } from './chapters/losses.js';
import { maps } from './chapters/maps.js';
import { mapping } from './chapters/mapping.js';
import { proofs } from './chapters/proofs.js';
import { protocol } from './chapters/protocol.js';
import { requests } from './chapters/requests.js';
import { revisions } from './chapters/revisions.js';
import { rounds } from './chapters/rounds.js';
import { routes } from './chapters/routes.js';
import { settings } from './chapters/settings.js';

/** The chapters of a book. A new one is a file of its own, its name here and its name among those that are chosen from. */
const chapters = [lines, settings, maps, routes, mapping, requests, rounds, losses, findings, proofs, found, protocol, revisions];

export function definitionOf(wanted: BookChapter): Chapter {
  return chapters.find(({ chapter }) => chapter === wanted)!;
}
