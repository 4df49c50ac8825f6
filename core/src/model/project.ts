import * as z from 'zod';
import { Id, Name, Note } from '../common/index.js';

export const Project = z.strictObject({
  ...{ id: Id, name: Name, note: Note },
  resumes: z.boolean().describe('After the server broke down, the bench goes on by itself where it ran on stand-ins'),
});
export type Project = z.infer<typeof Project>;
