import type { HeldWords } from '@plain-envoy/core/feed';
import { pointWidth, type ProjectDocument } from '@plain-envoy/core/model';
import { byPapers, type ProofBench } from '@plain-envoy/engine/prove';
import { controlOf } from './control-of.spec-helper.js';
import type { Plant } from './index.js';

/** What a proof can do to the stand-ins of a plant, by their control interface; what one has done is known `lateMs` later. */
export function handsOn(
  plant: Plant,
  document: ProjectDocument,
  { lateMs = 0, reason = () => null }: { lateMs?: number; reason?: ProofBench['reason'] } = {},
): ProofBench {
  const control = controlOf(plant);
  const put = async (url: string, payload: object): Promise<unknown> => {
    const answer = await control.inject({ method: 'PUT', url, payload });
    if (answer.statusCode !== 200) throw new Error(answer.json<{ error: { message: string } }>().error.message);
    return answer.json();
  };
  return {
    ...byPapers(document, {
      drive: async (point, value) => {
        const { words } = (await put(`/stand-ins/${point.deviceId}/drive`, { point, value })) as { words: number[] };
        if (lateMs) await new Promise((done) => setTimeout(done, lateMs));
        return words;
      },
      look: async (points) => (await put('/look', { points })) as HeldWords[],
      letGo: async (point) => {
        await put(`/stand-ins/${point.deviceId}/release`, { table: point.table, offset: point.offset, count: pointWidth(point) });
      },
    }),
    cut: async (deviceId, cut) => {
      await put(`/stand-ins/${deviceId}/cut`, { cut });
    },
    reason,
  };
}

/** The devices of a plant that are cut off, or hold what they were driven to. */
export function leftOn(plant: Plant): string[] {
  return plant.members().flatMap(({ device, cut, standIn }) => (cut || standIn?.bank.heldPlaces().length ? [device.name] : []));
}
