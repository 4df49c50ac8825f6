import { portInWords, TextExchange } from './index.js';

const port = new TextExchange({
  telegrams: [],
  as: 'converter',
  memory: { read: () => [], write: () => undefined },
  send: () => true,
}).state(0);

describe('How a text port is', () => {
  it('is said in a word: what keeps it from sending first', () => {
    const said = (fields: Partial<typeof port>) => portInWords({ ...port, ...fields });
    expect(said({})).toBe('open, nothing came yet');
    expect(said({ silentMs: 200 })).toBe('receiving');
    expect(said({ silentMs: 12_300 })).toBe('ready, silent for 12 s');
    expect(said({ silentMs: 200, isHeld: true })).toBe('made to wait by the other side');
    expect(said({ silentMs: 200, isHeld: true, waiting: 40 })).toBe('40 bytes wait for the other side');
    expect(said({ isHeld: true, isFull: true, waiting: 4090 })).toBe('buffer full');
  });
});
