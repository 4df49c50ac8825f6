import * as z from 'zod';
import { Id, Name, Note } from '../common/index.js';

export const Project = z.strictObject({
  ...{ id: Id, name: Name, note: Note },
  resumes: z.boolean().describe('After the server broke down, the bench goes on by itself where it ran on stand-ins'),
});
export type Project = z.infer<typeof Project>;

/** The project of the demo, by which it is known without its being loaded. */
export const DEMO_ID = '019aa000-0000-7000-8000-000000000001';
