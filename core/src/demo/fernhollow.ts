import type { ProjectDocument } from '../model/index.js';
import { project } from './ids.js';
import { devices, lines, ports } from './site.js';
import { points, rounds, routes } from './make.js';
import './kiln.js';
import './plant.js';
import './maps.js';
import './rest.js';
import { telegrams } from './texts.js';
import { frames } from './turner.js';
import './conveyor.js';
import './grid.js';
import { errands, watchLists } from './bench.js';
import { papers } from './papers.js';

/** Fernhollow Maltings, an invented malt house. Ids are fixed, so that a second seeding finds the first. */
export function fernhollow(): ProjectDocument {
  return {
    project,
    lines,
    devices,
    ports,
    telegrams,
    frames,
    points,
    papers,
    rounds,
    routes,
    errands,
    watchLists,
    variables: [],
    listProfiles: [],
  };
}
