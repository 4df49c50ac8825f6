import type { Beginning } from './beginning.js';

export const empty: Beginning = {
  id: 'empty',
  name: 'Empty',
  says: 'No line and no device.',
  devices: null,
  make: () => undefined,
};
