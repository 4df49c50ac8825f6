import { settingsOf } from '../line/index.js';
import type { ProjectDocument } from '../model/index.js';
import { type TextCause, textCauses } from './causes/index.js';
import { listenerOf } from '../converter/index.js';
import type { TextPortState } from './text-port-state.js';
import { textsOn } from '../converter/index.js';

/** So many texts in a row that are none, and only they count: what came well before them says nothing of now. */
const STREAK = 5;

/** What is likely wrong with what comes of a device, the likeliest first. */
export interface TextDiagnosis {
  cause: string;
  at: TextCause['at'];
  message: string;
  mend: string;
}

/** Explains what its listener has heard of a device on its line; nothing where all is well. */
export function diagnoseText(document: ProjectDocument, deviceId: string, port: TextPortState): TextDiagnosis[] {
  const listener = listenerOf(document, deviceId);
  if (!listener) return [];
  const sender = document.ports.find((row) => row.deviceId === deviceId && row.lineId === listener.line.id);
  const telegrams = textsOn(document, listener.line.id).filter(
    (telegram) => telegram.deviceId === deviceId && telegram.direction === 'sent',
  );
  if (telegrams.length === 0) return [];
  const counted = port.telegrams.filter(({ id }) => telegrams.some((telegram) => telegram.id === id));
  const texts = port.texts.filter(({ telegramId }) => telegramId === null || telegrams.some(({ id }) => id === telegramId));
  const streak = texts.slice(texts.findLastIndex(({ problems }) => problems.length === 0) + 1);
  const isStreak = streak.length >= STREAK;
  const of = {
    device: document.devices.find(({ id }) => id === deviceId)?.name ?? '',
    ...{ telegrams, hears: listener.settings, sends: sender?.kind === 'serial' ? settingsOf(sender) : null },
    port: { ...port, texts: isStreak ? streak : texts },
    sound: isStreak ? 0 : counted.reduce((sum, { count }) => sum + count, 0),
    damaged: isStreak ? streak.length : counted.reduce((sum, { damaged }) => sum + damaged, 0) + port.unknown,
  };
  return textCauses.flatMap(({ id, at, find }) => {
    const found = find(of);
    return found ? [{ cause: id, at, ...found }] : [];
  });
}
