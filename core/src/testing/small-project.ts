import { ProjectMaker } from '../making/index.js';
import { blankProject } from '../model/index.js';

/** Ids one after the other, beginning with these eight digits. */
export function countedIds(first: string): () => string {
  let made = 0;
  return () => `${first}-0000-7000-8000-${(made += 1).toString(16).padStart(12, '0')}`;
}

/** A project for tests that need no more than a few devices. Its ids are counted, so that the same pieces have the same ids each time. */
export class SmallProject extends ProjectMaker {
  constructor() {
    const nextId = countedIds('019aa111');
    super(blankProject(nextId(), 'Small'), nextId);
  }
}
