import type { Plant } from '../plant/index.js';

/** A request about the stand-ins of one project. */
export interface ToProject {
  Params: { projectId: string };
}

/** The stand-ins that a request is about. */
export type PlantOf = (request: { params: unknown }) => Plant;
