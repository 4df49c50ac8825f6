import { framingOf, type ModbusFraming } from '../frame/index.js';
import { type SerialSettings, settingsOf } from './character.js';

const RATES = [19_200, 9600, 38_400, 115_200, 57_600, 4800, 2400, 1200];

/**
 * Settings to try on a device that does not answer, likeliest first: the line's own, then the line's rate with the other
 * characters that are in use, then the other rates from the commonest on.
 */
export function likelySettings(own: SerialSettings, framing: ModbusFraming): SerialSettings[] {
  const rates = [own.baud, ...RATES.filter((rate) => rate !== own.baud)];
  const all = [
    settingsOf(own),
    ...rates.flatMap((rate) => framingOf(framing).usualCharacters.map((character) => ({ baud: rate, ...character }))),
  ];
  const seen = new Set<string>();
  return all.filter((settings) => {
    const key = Object.values(settings).join();
    return seen.has(key) ? false : seen.add(key);
  });
}
