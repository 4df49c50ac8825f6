import * as z from 'zod';
import { diagnostics } from './diagnostics.js';
import { eventCounter } from './event-counter.js';
import { eventLog } from './event-log.js';
import { exceptionStatus } from './exception-status.js';
import { fifoQueue } from './fifo.js';
import { readFile, writeFile } from './files.js';
import { identification } from './identification.js';
import type { AskSchema, Inquiry } from './inquiry.js';
import { serverId } from './server-id.js';

const all = [exceptionStatus, diagnostics, eventCounter, eventLog, serverId, readFile, writeFile, fifoQueue, identification] as const;
type All = typeof all;

/** Anything that can be asked of a device beside its registers. */
export const InquiryAsk = z.discriminatedUnion('functionCode', schemasOf(all));
export type InquiryAsk = z.infer<All[number]['ask']>;

/** What is known of such a function; its methods take what is asked by that function. */
export type AnyInquiry = Inquiry<AskSchema, InquiryAsk>;
export const inquiries: readonly AnyInquiry[] = all.map((inquiry) => inquiry as unknown as AnyInquiry);

const byCode = new Map(inquiries.map((inquiry) => [inquiry.code, inquiry]));

export function inquiryOf(code: number): AnyInquiry | undefined {
  return byCode.get(code);
}

/** The fields of such a question as JSON Schema, from which a form is built. */
export function inquirySchema(code: number): unknown {
  return z.toJSONSchema(inquiryOf(code)!.ask.omit({ functionCode: true }), { io: 'input' });
}

function schemasOf<const List extends readonly { ask: AskSchema }[]>(list: List): { -readonly [Key in keyof List]: List[Key]['ask'] } {
  return list.map(({ ask }) => ask) as { -readonly [Key in keyof List]: List[Key]['ask'] };
}
