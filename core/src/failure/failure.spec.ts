import { type Failure, failureError, failureFrom, groupOf, sentenceOf } from './index.js';

const where = { host: '10.40.8.10', port: 502 };

describe('Failures', () => {
  it('are said in sentences that end, with what is known of them', () => {
    const some: Failure[] = [
      { code: 'half-answer', bytes: 9, of: 17 },
      { code: 'half-answer', bytes: 3, of: null },
      { code: 'wrong-unit', asked: 5, got: 7 },
      { code: 'wrong-size', asked: 4, got: 2 },
      { code: 'not-accepted', ...where, afterMs: 3000 },
      { code: 'refused-connection', ...where },
    ];
    for (const failure of some) expect(sentenceOf(failure)).toMatch(/^[A-Z0-9].*\.$/);
    expect(sentenceOf(some[0]!)).toBe('The answer stopped in the middle, after 9 of 17 bytes.');
    expect(sentenceOf(some[1]!)).toBe('The answer stopped in the middle, after 3 bytes.');
    expect(sentenceOf(some[5]!)).toContain('10.40.8.10:502');
  });

  it('are counted in the way in which they went wrong', () => {
    expect(groupOf({ code: 'no-answer' })).toBe('no answer');
    expect(groupOf({ code: 'exception', exception: 2 })).toBe('refused');
    expect(groupOf({ code: 'wrong-unit', asked: 1, got: 2 })).toBe('damaged');
    expect(groupOf({ code: 'broken' })).toBe('not connected');
    expect(groupOf({ code: 'late' })).toBe('late');
  });

  it('stay facts where something is opened, and what the system says becomes one', () => {
    const failure: Failure = { code: 'unreachable', ...where };
    expect(failureFrom(failureError(failure))).toBe(failure);
    expect(failureError(failure).message).toBe(sentenceOf(failure));
    expect(failureFrom(new Error('/dev/nowhere cannot be opened.'))).toEqual({
      code: 'own-port',
      detail: '/dev/nowhere cannot be opened.',
    });
  });
});
