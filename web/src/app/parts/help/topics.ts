import { offset } from './offset';
import { shield } from './shield';
import { termination } from './termination';
import type { HelpTopic } from './topic';
import { wordOrder } from './word-order';

/** What is explained with a drawing. A new one is its file and its name here. */
export const topics = { offset, shield, termination, wordOrder } as const satisfies Record<string, HelpTopic>;
export type HelpName = keyof typeof topics;
