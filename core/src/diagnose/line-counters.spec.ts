import { type DeviceCounters, newCounters } from '../feed/index.js';
import { compareCounters, type CountersSeen, ourCounters } from './line-counters.js';

const zero: DeviceCounters = {
  ...{ atMs: 0, messages: 0, damaged: 0, exceptions: 0, toIt: 0, unanswered: 0, notTaken: 0, busy: 0, overruns: 0, commands: 0 },
};
const seen = (its: Partial<DeviceCounters> = {}, ours: Partial<CountersSeen['ours']> = {}): CountersSeen => ({
  its: { ...zero, ...its },
  ours: { sent: 0, noAnswer: 0, damaged: 0, exceptions: 0, ...ours },
});
/** One look asks nine questions itself. */
const LOOK = 9;
const compared = (its: Partial<DeviceCounters>, ours: Partial<CountersSeen['ours']>) => compareCounters(seen(), seen(its, ours));
const told = (...given: Parameters<typeof compared>) => compared(...given).sentences.join(' ');

describe('the counters of a device beside ours', () => {
  it('agree, give or take what is under way, and then nothing is wrong', () => {
    for (const more of [-3, 0, 3]) {
      const result = compared({ toIt: 400 + LOOK + more }, { sent: 400 });
      expect([result.isTrouble, result.ours.sent, result.its.toIt])
        .withContext(`${more}`)
        .toEqual([false, 400, 409 + more]);
    }
    expect(told({ toIt: 400 + LOOK }, { sent: 400 })).toContain('It and we agree: 400 questions');
    expect(compared({ toIt: 1000 + LOOK - 10 }, { sent: 1000 }).isTrouble)
      .withContext('one in a hundred')
      .toBeFalse();
    expect(compared({ toIt: 1000 + LOOK - 11 }, { sent: 1000 }).isTrouble).toBeTrue();
  });

  it('say that questions are damaged on the way to it', () => {
    const text = told({ toIt: 380 + LOOK, damaged: 20 }, { sent: 400, noAnswer: 20 });
    expect(text).toContain('It heard 20 damaged messages: they are spoilt on the way to it');
    expect(text).toContain('20 of our questions got no answer');
    expect(text).toContain('20 of our 400 questions did not get to it');
    expect(text).not.toContain('on their way back');
  });

  it('say that answers are lost on the way back where it heard every question soundly', () => {
    expect(told({ toIt: 400 + LOOK }, { sent: 400, noAnswer: 5, damaged: 7 })).toBe(
      'It heard all our questions, none of them damaged, but we missed 12 of its answers: they are lost or damaged on their way back, or come too late.',
    );
  });

  it('say that it did not answer, where it counts that itself, and only of the rest that it got lost', () => {
    expect(told({ toIt: 400 + LOOK, unanswered: 9 }, { sent: 400, noAnswer: 9 })).toBe(
      'It did not answer 9 messages to it, as it says itself, broadcasts among them: look at the device, or how often it is asked.',
    );
    expect(told({ toIt: 400 + LOOK, unanswered: 9 }, { sent: 400, noAnswer: 11 })).toContain('we missed 2 of its answers');
    expect(compared({ toIt: 400 + LOOK, unanswered: 9 }, { sent: 400 }).isTrouble)
      .withContext('broadcasts')
      .toBeFalse();
  });

  it('say that somebody else asks it', () => {
    expect(told({ toIt: 460 + LOOK }, { sent: 400 })).toContain('It was asked 60 times more than we asked: somebody else asks it too');
  });

  it('say that it refused more than we saw, and what it is too slow for', () => {
    expect(told({ toIt: 400 + LOOK, exceptions: 9 }, { sent: 400, exceptions: 2 })).toContain('It refused 9 times, and we saw 2');
    expect(compared({ toIt: 400 + LOOK, exceptions: 9 }, { sent: 400, exceptions: 9 }).isTrouble).toBeFalse();
    expect(told({ toIt: LOOK, overruns: 4, busy: 5, notTaken: 6 }, {})).toMatch(/4 characters .* too busy for 5 .* could not take 6/);
  });

  it('go round after 65535, and are not compared where they have begun anew', () => {
    const round = compareCounters(seen({ toIt: 65_500 }, { sent: 10 }), seen({ toIt: (65_500 + 100 + LOOK) % 65_536 }, { sent: 110 }));
    expect([round.isTrouble, round.its.toIt]).toEqual([false, 109]);
    const anew = compareCounters(seen({ toIt: 900, damaged: 4 }, { sent: 10 }), seen({ toIt: 9, damaged: 0 }, { sent: 110 }));
    expect(anew.sentences[0]).toContain('It has begun to count anew meanwhile');
    expect([anew.its.toIt, anew.its.damaged]).toEqual([null, null]);
  });

  it('say nothing of a counter that it does not have', () => {
    const without = { ...zero, toIt: null, exceptions: null, damaged: null };
    const result = compareCounters(
      { ...seen(), its: without },
      { its: without, ours: { sent: 400, noAnswer: 0, damaged: 0, exceptions: 9 } },
    );
    expect([result.isTrouble, result.its.toIt]).toEqual([false, null]);
  });

  it('take for ours all tries, and what a gateway says of a silent device as no answer', () => {
    const counters = { ...newCounters('x'), answered: 90, noAnswer: 4, damaged: 3, exceptions: { 2: 5, 10: 1, 11: 7 } };
    expect(ourCounters(counters)).toEqual({ sent: 110, noAnswer: 12, damaged: 3, exceptions: 5 });
  });
});
