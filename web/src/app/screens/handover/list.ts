import { book } from './book';
import { found } from './found';
import { losses } from './losses';
import { mapping } from './mapping';
import { program } from './program';
import { protocol } from './protocol';
import { requests } from './requests';
import { revisions } from './revisions';
import { variables } from './variables';

/** The documents that are handed over, in the order of their tabs. A new one is a file of its own and its name here. */
export const kinds = [requests, mapping, variables, program, losses, found, protocol, book, revisions] as const;
