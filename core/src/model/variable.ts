import * as z from 'zod';
import { Id, Name } from '../common/index.js';
import { NameRules } from '../names/index.js';

/** What a point is as a variable of its controller, beyond what follows from it. */
export const Variable = z.strictObject({
  id: Id,
  projectId: Id,
  pointId: Id,
  name: z
    .string()
    .regex(/^[A-Za-z_][A-Za-z0-9_]*$/, 'A name has letters, figures and _, and begins with no figure.')
    .max(255, 'At most 255 characters.')
    .nullable()
    .default(null)
    .describe('Its name; none: by the rules of the list'),
  initial: z
    .string()
    .max(1000, 'At most 1000 characters.')
    .default('')
    .describe('What it begins with, as a person types it; nothing: what its type has'),
  retain: z.boolean().default(false).describe('It keeps its value when the controller is switched off'),
});
export type Variable = z.infer<typeof Variable>;

/** What a list of variables may say of each. */
export const listColumns = [
  { name: 'name', label: 'Name' },
  { name: 'address', label: 'Address' },
  { name: 'type', label: 'Type' },
  { name: 'initial', label: 'Initial value' },
  { name: 'retain', label: 'Retain' },
  { name: 'comment', label: 'Comment' },
  { name: 'point', label: 'Point' },
  { name: 'unit', label: 'Unit' },
  { name: 'source', label: 'Source' },
] as const;
export const ListColumn = z.enum(
  listColumns.map(({ name }) => name) as [(typeof listColumns)[number]['name'], ...(typeof listColumns)[number]['name'][]],
);
export type ListColumn = z.infer<typeof ListColumn>;

/** What a program of a controller is made of, in the order in which a package wants to have it. */
export const programParts = [
  { part: 'variables', label: 'Variables', about: 'The points of the controller, at their addresses' },
  { part: 'types', label: 'Types', about: 'A structure of each device, with bits by name' },
  { part: 'values', label: 'Values', about: 'What takes answers apart and puts together what is written' },
  { part: 'exchange', label: 'Exchange', about: 'How a request goes out, lost values, heartbeats' },
  { part: 'interface', label: 'Interface', about: 'The one block that is made for the package at hand' },
  { part: 'program', label: 'Program', about: 'The requests, each route, and what runs them' },
] as const;
export type ProgramPart = (typeof programParts)[number]['part'];
export const ProgramPart = z.enum(programParts.map(({ part }) => part) as [ProgramPart, ...ProgramPart[]]);

/** How lists of variables are made: the names in them, and how they are written. Kept, for the controllers whose package wants it so. */
export const ListProfile = z
  .strictObject({
    id: Id,
    projectId: Id,
    name: Name,
    deviceIds: z.array(Id).max(1000, 'At most 1000 controllers.').default([]).describe('The controllers whose lists follow it'),
    maxLength: NameRules.shape.maxLength,
    allow: NameRules.shape.allow,
    case: NameRules.shape.case,
    reserved: z
      .array(z.string().min(1).max(80))
      .max(5000, 'At most 5000 words.')
      .describe('Words that are no names, beside those of the language'),
    prefix: z
      .string()
      .regex(/^[A-Za-z0-9_]*$/, 'Letters, figures and _.')
      .max(20, 'At most 20 characters.')
      .describe('What each name begins with'),
    byDevice: z.boolean().describe('The device at the other end stands before the name of the point'),
    columns: z
      .array(ListColumn)
      .min(1, 'At least one column.')
      .refine((columns) => new Set(columns).size === columns.length, 'Each column once.'),
    separator: z.enum([';', ',', '\t', '|']),
    head: z.boolean().describe('The first line names the columns'),
    encoding: z.enum(['utf-8', 'utf-16le', 'windows-1252']),
    byteOrderMark: z.boolean(),
    portable: z.boolean().default(false).describe('Programs without types of 64 bits, in which the bits of a REAL are made by arithmetic'),
    scanMs: z
      .int('A whole number of milliseconds.')
      .min(5, 'At least 5 ms.')
      .max(1000, 'At most a second.')
      .default(10)
      .describe('How long a scan of the program takes where it is proved'),
    parts: z
      .array(ProgramPart)
      .min(1, 'At least one part.')
      .refine((parts) => new Set(parts).size === parts.length, 'Each part once.')
      .default(programParts.map(({ part }) => part))
      .describe('The parts of a program that are handed over'),
  })
  .refine(({ encoding, byteOrderMark }) => encoding !== 'windows-1252' || !byteOrderMark, {
    message: 'Windows-1252 has no byte-order mark.',
    path: ['byteOrderMark'],
  });
export type ListProfile = z.infer<typeof ListProfile>;
