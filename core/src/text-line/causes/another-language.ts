import { joined } from '../../common/index.js';
import type { Telegram } from '../../telegram/index.js';
import { proposeTelegram, Reader } from '../../telegram-text/index.js';
import { badTexts, bytesOf, type TextCause } from './definition.js';

/** So many texts alike are no chance. */
const ALIKE = 3;
/** Of so much of what came, at least. */
const MOST = 0.8;

/** What comes is whole and of one form, and that is not the form of any telegram: a device has several, and another is set. */
export const anotherLanguage: TextCause = {
  id: 'another-language',
  at: 'telegram',
  find: (of) => {
    if (of.sound > 0) return null;
    const came = bytesOf(badTexts(of));
    const texts = came.map(withoutControls).filter(({ length }) => length > 0);
    if (texts.length < ALIKE) return null;
    // What only ends otherwise is of the right form.
    const readers = of.telegrams.map(({ telegram }) => new Reader({ ...telegram, start: undefined }));
    if (texts.some((bytes) => readers.some((reader) => reader.read(bytes).ok))) return null;
    const proposed = proposeTelegram(joined(came.reverse()));
    if (!proposed.ok || proposed.value.fits < ALIKE || proposed.value.fits < texts.length * MOST) return null;
    const { telegram } = proposed.value;
    if (of.telegrams.some((own) => isAlike(own.telegram, telegram))) return null;
    const names = of.telegrams.map(({ name }) => name).join(' or ');
    return {
      message: `The texts of ${of.device} are all of one form, which is not that of ${names}: ${formOf(telegram)} It may be set to another language than its papers here have.`,
      mend: 'Set the language or the output format at the device; or take what came as samples of a telegram of its own.',
    };
  },
};

function withoutControls(bytes: Uint8Array): Uint8Array {
  const isControl = (byte: number | undefined) => byte !== undefined && byte < 0x20;
  let [from, to] = [0, bytes.length];
  while (isControl(bytes[from])) from++;
  while (to > from && isControl(bytes[to - 1])) to--;
  return bytes.subarray(from, to);
}

const separatorOf = ({ fields }: Telegram) => fields.flatMap(({ at }) => ('separator' in at ? [at.separator] : []))[0] ?? null;

/** Parted alike, and of as many parts but for one: a part that is missing or too many is a fault in the form that is known. */
function isAlike(own: Telegram, seen: Telegram): boolean {
  return separatorOf(own) === separatorOf(seen) && Math.abs(own.fields.length - seen.fields.length) <= 1;
}

function formOf(telegram: Telegram): string {
  const separator = separatorOf(telegram);
  const parts = telegram.fields.length === 1 ? 'one part' : `${telegram.fields.length} parts`;
  return separator === null ? `${parts} at fixed places.` : `${parts}, parted by “${separator}”.`;
}
