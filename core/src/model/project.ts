import * as z from 'zod';
import { Id, Name, Note } from '../common/index.js';

export const Project = z.strictObject({ id: Id, name: Name, note: Note });
export type Project = z.infer<typeof Project>;
