import { listenerOf } from '../converter/index.js';
import type { ProjectDocument } from '../model/index.js';
import { diagnoseText, type TextPortState } from '../text-line/index.js';
import type { Place } from './case.js';
import type { Diagnosis } from './diagnose.js';

/** The same of devices that send texts, by what is heard of them: `heardBy` gives it by the id of a listener, where it is known. */
export function diagnoseTexts(document: ProjectDocument, heardBy: (listenerId: string) => TextPortState | undefined): Diagnosis[] {
  const senders = new Map(document.telegrams.flatMap(({ direction, deviceId, id }) => (direction === 'sent' ? [[deviceId, id]] : [])));
  return [...senders].flatMap(([deviceId, telegramId]): Diagnosis[] => {
    const listener = listenerOf(document, deviceId);
    const device = document.devices.find(({ id }) => id === deviceId);
    const seen = listener && heardBy(listener.id);
    if (!device || !seen) return [];
    const [first] = diagnoseText(document, deviceId, seen);
    if (!first) return [];
    const { cause, message, mend } = first;
    const own = document.ports.find((row) => row.deviceId === deviceId && row.lineId === listener.line.id);
    const at: Place = first.at === 'port' && own ? { entity: 'port', id: own.id } : { entity: 'telegram', id: telegramId! };
    const heard = `${seen.bytes} characters came over its text line.`;
    return [
      {
        ...{ deviceId, name: device.name, seen: heard, test: null },
        causes: [{ cause, sentence: message, evidence: mend, more: [], against: [], likelihood: 1, at }],
      },
    ];
  });
}
