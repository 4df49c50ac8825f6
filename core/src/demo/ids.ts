import { type Book, type Project, plainBook } from '../model/index.js';

let counter = 0;

/** Ids of the demo are counted, so that a second seeding finds the first. */
export function nextId(): string {
  counter += 1;
  return `019aa000-0000-7000-8000-${counter.toString(16).padStart(12, '0')}`;
}

/** Who hands the demo over. */
const book: Book = {
  ...plainBook(),
  company: 'Larkmoor Integration',
  titleBlock: [
    { label: 'Document', text: 'FHM-31-07' },
    { label: 'Drawn by', text: 'K. Weaver' },
    { label: 'Checked by', text: '' },
  ],
};

export const project: Project = {
  id: nextId(),
  name: 'Fernhollow Maltings',
  client: 'Fernhollow Malt Company',
  note: 'Kiln, steeps, germination floors, energy and grain temperatures, exchanged with the kiln controller.',
  resumes: true,
  book,
};
export const projectId = project.id;
