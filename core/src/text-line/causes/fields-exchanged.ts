import type { Telegram } from '../../telegram/index.js';
import { Reader } from '../../telegram-text/index.js';
import { badTexts, bytesOf, type TextCause } from './definition.js';

/** So many texts that fit are no chance. */
const ENOUGH = 2;
/** The last texts are tried with every two fields. */
const TRIED = 10;

/** Two fields stand where the other should: with both exchanged, what comes is sound. Told only where their kinds differ. */
export const fieldsExchanged: TextCause = {
  id: 'fields-exchanged',
  at: 'telegram',
  find: (of) => {
    if (of.sound > 0) return null;
    for (const { id, name, telegram } of of.telegrams) {
      const came = bytesOf(badTexts(of).filter(({ telegramId }) => telegramId === id)).slice(0, TRIED);
      if (came.length < ENOUGH) continue;
      for (const [a, b] of pairs(telegram.fields.length)) {
        const reader = new Reader(exchanged(telegram, a, b));
        if (!came.every((bytes) => reader.readWhole(bytes, false).ok)) continue;
        const [one, other] = [telegram.fields[a]!.name, telegram.fields[b]!.name];
        return {
          message: `In the texts of ${of.device}, ${one} and ${other} stand in each other’s place: with both exchanged in ${name}, all that came is sound.`,
          mend: `Exchange where ${one} and ${other} are.`,
        };
      }
    }
    return null;
  },
};

function pairs(count: number): [number, number][] {
  return Array.from({ length: count }, (_, a) => Array.from({ length: count - a - 1 }, (_, b): [number, number] => [a, a + b + 1])).flat();
}

function exchanged(telegram: Telegram, a: number, b: number): Telegram {
  const fields = [...telegram.fields];
  [fields[a], fields[b]] = [
    { ...fields[a]!, at: fields[b]!.at },
    { ...fields[b]!, at: fields[a]!.at },
  ];
  return { ...telegram, fields };
}
