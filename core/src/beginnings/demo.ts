import { fernhollow } from '../demo/index.js';
import { withNewIds } from '../project-file/index.js';
import type { Beginning } from './beginning.js';

export const demo: Beginning = {
  id: 'demo',
  name: 'Like the demo',
  says: 'A whole maltings: kiln, steeps, floors, energy and grain temperatures on seven lines.',
  devices: null,
  make(maker) {
    const { project } = maker.document;
    const { project: _, ...rest } = withNewIds(fernhollow(), maker.nextId, project.id);
    Object.assign(maker.document, rest);
    project.note = fernhollow().project.note;
  },
};
