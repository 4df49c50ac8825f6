import { fernhollow } from '@plain-envoy/core/demo';
import type { Reading } from '@plain-envoy/core/feed';
import type { RouteProof } from '@plain-envoy/core/proof';
import { proveByHand } from './index.js';
import { compile } from '@plain-envoy/core/compile';

const { plan } = compile(fernhollow());
const route = plan.routes.find(({ name }) => name === 'Damper position')!;

describe('a proof where nothing may be driven', () => {
  let readings: Map<string, Reading>;
  let skipped: boolean;
  const hold = (pointId: string, ...words: number[]) => readings.set(pointId, { pointId, words, quality: 'good', reason: null, atMs: 1 });
  /** What comes of it when `move` is done once somebody was asked. */
  const proved = async (move: () => void, patience = { moveMs: 300, spareMs: 200 }) => {
    const asked: string[] = [];
    const proofs: RouteProof[] = [];
    const eyes = { reading: (id: string) => readings.get(id), reason: () => 'The damper does not answer.', skips: () => skipped };
    for await (const event of proveByHand([{ ...route, periodMs: 20 }], eyes, patience)) {
      if (event.kind === 'ask') {
        asked.push(event.sentence);
        move();
      }
      if (event.kind === 'proof') proofs.push(event.proof);
    }
    return { asked, proof: proofs[0]! };
  };
  beforeEach(() => {
    readings = new Map();
    skipped = false;
    hold(route.source.id, 400);
    hold(route.destination.id, 400);
  });

  it('asks a person to move the source, and is carried when that arrives', async () => {
    const { asked, proof } = await proved(
      () => {
        hold(route.source.id, 525);
        setTimeout(() => hold(route.destination.id, 525), 60);
      },
      { moveMs: 20_000, spareMs: 20_000 },
    );
    expect(asked).toEqual(['Move Position; it is 40.0 % now.']);
    expect([proof.state, proof.checks[0]?.sent, proof.checks[0]?.found]).toEqual(['carried', '52.5 %', '52.5 %']);
  });

  it('fails with what was seen where it does not arrive', async () => {
    const { proof } = await proved(() => hold(route.source.id, 525));
    expect([proof.state, proof.checks[0]?.expected, proof.checks[0]?.found, proof.checks[0]?.ms]).toEqual([
      'failed',
      '52.5 %',
      '40.0 %',
      null,
    ]);
    expect(proof.sentence).toBe('It was moved by hand, and did not arrive. The damper does not answer.');
  });

  it('goes on at once where the person passes the route over, and says nothing of it', async () => {
    const { asked, proof } = await proved(() => (skipped = true), { moveMs: 20_000, spareMs: 200 });
    expect([asked.length, proof]).toEqual([1, undefined as never]);
  });

  it('is not proved where nobody moves it', async () => {
    const { proof } = await proved(() => undefined);
    expect([proof.state, proof.checks]).toEqual(['not proved', []]);
  });
});
