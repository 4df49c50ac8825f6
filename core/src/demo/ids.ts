let counter = 0;

/** Ids of the demo are counted, so that a second seeding finds the first. */
export function nextId(): string {
  counter += 1;
  return `019aa000-0000-7000-8000-${counter.toString(16).padStart(12, '0')}`;
}

export const project = {
  id: nextId(),
  name: 'Fernhollow Maltings',
  client: 'Fernhollow Malt Company',
  note: 'Kiln, steeps, germination floors, energy and grain temperatures, exchanged with the kiln controller.',
  resumes: true,
};
export const projectId = project.id;
