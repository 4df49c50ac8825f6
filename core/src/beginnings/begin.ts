import { ProjectMaker } from '../making/index.js';
import { blankProject, type ProjectDocument } from '../model/index.js';
import { bad, good, type Outcome } from '../outcome/index.js';
import { beginnings, type Wished } from './list.js';

export interface Begins extends Partial<Wished> {
  name: string;
  client: string;
  /** The id of a beginning. */
  like: string;
}

/** A whole project with which one begins; a sentence with its field where there is no such beginning, or it has no place for so many devices. */
export function begin({ name, client, like, devices }: Begins, newId: () => string): Outcome<ProjectDocument> {
  const beginning = beginnings.find(({ id }) => id === like);
  if (!beginning) return bad('Choose what it begins with.', 'like');
  const count = devices ?? beginning.devices?.usual ?? 0;
  if (beginning.devices && (count < 1 || count > beginning.devices.most))
    return bad(`From 1 to ${beginning.devices.most} devices here.`, 'devices');
  const maker = new ProjectMaker(blankProject(newId(), name, client), newId);
  beginning.make(maker, { devices: count });
  return good(maker.document);
}
