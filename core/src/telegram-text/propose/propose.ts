import { bad, good, type Outcome } from '../../outcome/index.js';
import { Telegram } from '../../telegram/index.js';
import { readTelegrams } from '../stream.js';
import { cutOf } from './endings.js';
import { fieldsOf } from './fields.js';

/** A telegram that samples suggest. */
export interface Proposed {
  telegram: Telegram;
  /** How many texts were found, and how many of them it reads without a problem. */
  texts: number;
  fits: number;
  /** Why it is so, in sentences. */
  says: string[];
}

/** What telegrams in a recorded stream are likely like: how they end, their fields, and a checksum where trying finds one. */
export function proposeTelegram(bytes: Uint8Array): Outcome<Proposed> {
  const cut = cutOf(bytes);
  if (!cut || cut.texts.length === 0)
    return bad(
      'Neither an end mark nor a length comes again and again in it. Give at least two whole telegrams with their end marks, or three without.',
    );
  const { fields, says } = fieldsOf(cut.texts);
  const hasHigh = bytes.some((byte) => byte > 127);
  const parsed = Telegram.safeParse({ ...cut.ending, encoding: hasHigh ? 'latin1' : 'ascii', fields });
  if (!parsed.success) return bad('Nothing but blanks is in these telegrams.');
  const telegram = parsed.data;
  const read = readTelegrams(telegram, bytes).flatMap((part) => (part.kind === 'telegram' ? [part.parsed] : []));
  const check = fields.find(({ kind }) => kind === 'checksum')?.checksum;
  return good({
    telegram,
    texts: read.length,
    fits: read.filter(({ ok }) => ok).length,
    says: [
      cut.says,
      says,
      ...(check ? [`Its end is a checksum: ${check.kind}, written as ${check.written}, which all of them have.`] : []),
      ...(hasHigh ? ['Bytes above 7F are in it: its encoding may be another, or its parity was read as an eighth bit.'] : []),
    ],
  });
}
