import * as z from 'zod';
import { Id, Name, Note } from '../common/index.js';

export const ofLine = { id: Id, projectId: Id, name: Name, note: Note };

export const ofPort = {
  id: Id,
  projectId: Id,
  deviceId: Id,
  lineId: Id,
  position: z.int().min(0).max(10_000).describe('Order along the line'),
  setHow: Note.describe('How it is set on the device: switches, keypad, a page of its own'),
};

export const Role = z.enum(['asks', 'answers', 'both']).describe('Whether it asks, as client or master, or answers, as server or slave');
export const roleNames = { asks: 'asks', answers: 'answers', both: 'asks and answers' } as const;

export const Metres = z.number('A length in metres.').min(0, 'A length is not negative.').max(20_000, 'A line of more than 20 km is none.');
