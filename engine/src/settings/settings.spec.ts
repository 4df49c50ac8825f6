import type { SettingEvent } from '@plain-envoy/core/feed';
import type { Point } from '@plain-envoy/core/model';
import { driveProject } from './plant.spec-helper.js';
import { type ClientTransport, type Exchange, failed } from '../links/index.js';
import { answerPdu, exception, RegisterBank } from '../server/index.js';
import { ownWay, readPoints, writePoints } from './index.js';

/** A way to a device with these registers; every question is noted. */
function wayTo(answer: (pdu: Uint8Array) => Exchange) {
  const asked: string[] = [];
  let [opened, closed] = [0, 0];
  const transport: ClientTransport = {
    exchange(_unit, pdu) {
      asked.push(`f${pdu[0]} ${(pdu[1]! << 8) | pdu[2]!}`);
      return Promise.resolve(answer(pdu));
    },
    tell: () => Promise.resolve({ kind: 'sent' }),
    close: () => void (closed += 1),
  };
  const way = ownWay(() => {
    opened += 1;
    return transport;
  });
  return { way, asked, opened: () => opened, closed: () => closed };
}

async function all(events: AsyncGenerator<SettingEvent>): Promise<SettingEvent[]> {
  const told: SettingEvent[] = [];
  for await (const event of events) if (event.kind !== 'progress') told.push(event.kind === 'done' ? { kind: 'done', tookMs: 0 } : event);
  return told;
}

const done = { kind: 'done', tookMs: 0 } as const;

describe('settings that are read', () => {
  const { document, drive, points } = driveProject();
  const { ramp, limit, mode, command, missing } = points;

  it('come in one request where they lie together', async () => {
    const bank = new RegisterBank({ holding: 100 });
    bank.set('holding', 10, 25);
    bank.set('holding', 12, 0x4240);
    const { way, asked, opened, closed } = wayTo((pdu) => ({ kind: 'answer', pdu: answerPdu(bank, pdu) }));
    const told = await all(readPoints({ document, deviceId: drive.id }, [ramp, limit, command], way));
    expect(told).toEqual([
      { kind: 'unread', pointId: command.id, why: 'It can only be written.' },
      { kind: 'held', pointId: ramp.id, words: [25] },
      { kind: 'held', pointId: limit.id, words: [0x4240, 0] },
      done,
    ]);
    expect(asked).toEqual(['f3 10']);
    way.close();
    expect([opened(), closed()]).toEqual([1, 1]);
  });

  it('are asked for one by one where the device refuses them together', async () => {
    const bank = new RegisterBank({ holding: [[0, 19]] });
    bank.set('holding', 14, 3);
    const { way, asked } = wayTo((pdu) => ({ kind: 'answer', pdu: answerPdu(bank, pdu) }));
    const told = await all(readPoints({ document, deviceId: drive.id }, [mode, missing], way));
    expect(told).toEqual([
      { kind: 'held', pointId: mode.id, words: [3] },
      { kind: 'unread', pointId: missing.id, why: jasmine.stringContaining('exception 2') as unknown as string },
      done,
    ]);
    expect(asked).toEqual(['f3 14', 'f3 14', 'f3 20']);
  });

  it('end where the device does not answer, and the rest is not asked for', async () => {
    const { way, asked } = wayTo(() => failed({ code: 'no-answer' }));
    const apart = { ...missing, offset: 4000 };
    const own = { ...document, points: [...document.points.filter(({ id }) => id !== missing.id), apart] };
    const told = await all(readPoints({ document: own, deviceId: drive.id }, [ramp, apart], way));
    expect(told).toEqual([{ kind: 'failed', sentence: 'Drive did not answer within 1000 ms, asked 2 times.' }]);
    expect(asked.length).toBe(drive.tries);
  });
});

describe('settings that are written', () => {
  const { document, drive, points } = driveProject();
  const { ramp, limit, mode, brake, command, unlock } = points;
  const write = (way: ReturnType<typeof wayTo>, ...wanted: [point: Point, words: number[]][]) =>
    all(
      writePoints(
        { document, deviceId: drive.id },
        wanted.map(([point, words]) => ({ point, words })),
        way.way,
      ),
    );

  it('are read back, those that release others first, and bits leave the others of their register alone', async () => {
    const bank = new RegisterBank({ holding: 100 });
    bank.set('holding', 16, 0x00f0);
    const way = wayTo((pdu) => ({ kind: 'answer', pdu: answerPdu(bank, pdu) }));
    const told = await write(way, [ramp, [30]], [brake, [0x8]], [limit, [0x4240, 0]], [unlock, [1]]);
    expect(told).toEqual([
      { kind: 'written', pointId: unlock.id, state: 'holds', words: [1], sentence: 'Unlock holds 1.' },
      { kind: 'written', pointId: ramp.id, state: 'holds', words: [30], sentence: 'Ramp holds 3.0 s.' },
      { kind: 'written', pointId: brake.id, state: 'holds', words: [0xf8], sentence: 'Brake holds on.' },
      { kind: 'written', pointId: limit.id, state: 'holds', words: [0x4240, 0], sentence: 'Limit holds 48.' },
      done,
    ]);
    expect(way.asked[0]).toContain(' 18');
  });

  it('are told as they are then, where the device limits or ignores them', async () => {
    const bank = new RegisterBank({ holding: 100 });
    const way = wayTo((pdu) => {
      const answer = answerPdu(bank, pdu);
      bank.set('holding', 10, Math.min(bank.get('holding', 10), 20));
      bank.set('holding', 12, 0);
      return { kind: 'answer', pdu: answer };
    });
    const told = await write(way, [ramp, [30]], [limit, [0x4240, 0]]);
    expect(told.map((event) => event.kind === 'written' && [event.state, event.words, event.sentence])).toEqual([
      [
        'differs',
        [20],
        'Ramp was written 3.0 s, and the device holds 2.0 s. It may be limited or rounded by the device, protected, or laid out otherwise than the map says.',
      ],
      ['differs', [0, 0], 'Limit was written 48, and the device holds 0. It is released by Unlock; set that first.'],
      false,
    ]);
  });

  it('that are refused do not keep the others; what cannot be read back is not said to hold', async () => {
    const bank = new RegisterBank({ holding: 100 });
    const way = wayTo((pdu) =>
      ((pdu[1]! << 8) | pdu[2]!) === 14 ? { kind: 'answer', pdu: exception(pdu[0]!, 3) } : { kind: 'answer', pdu: answerPdu(bank, pdu) },
    );
    const told = await write(way, [ramp, [30]], [mode, [9]], [command, [1]], [{ ...limit, access: 'read' }, [1, 1]]);
    expect(told.map((event) => event.kind === 'written' && [event.state, event.words])).toEqual([
      ['holds', [30]],
      ['refused', null],
      ['unread', null],
      ['refused', null],
      false,
    ]);
  });

  it('end where the device does not answer any more', async () => {
    const way = wayTo(() => failed({ code: 'no-answer' }));
    const told = await write(way, [ramp, [30]], [mode, [9]]);
    expect(told).toEqual([
      {
        kind: 'written',
        pointId: ramp.id,
        state: 'refused',
        words: null,
        sentence: 'Ramp was not written. Drive did not answer within 1000 ms, asked 2 times.',
      },
      { kind: 'failed', sentence: 'Ramp was not written. Drive did not answer within 1000 ms, asked 2 times. 1 more was not written.' },
    ]);
  });
});
