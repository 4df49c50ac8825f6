import * as z from 'zod';

export const Pinned = z.boolean().default(false).describe('It stays where it was put by hand, whatever else is placed');
