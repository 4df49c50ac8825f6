import * as fc from 'fast-check';
import { imagePlaceOf, type Named, sidePlacesOf, Window } from './index.js';

const windows: Window[] = [
  { side: 'Controller', table: 'holding', offset: 0, byte: 0, bytes: 12, order: 'high-first' },
  { side: 'Far end', byte: 4, bytes: 8, order: 'low-first' },
  { side: 'Swapped', table: 'input', offset: 100, byte: 0, bytes: 12, order: 'low-first' },
  { side: 'Bits', table: 'coil', offset: 16, byte: 8, bytes: 2, order: 'high-first' },
];
const place = (named: Named) => {
  const found = imagePlaceOf(windows, named);
  return found.ok ? found.value : found.problem.message;
};

describe('The image of a converter', () => {
  it('has one place for what every side calls it', () => {
    expect(place({ side: 'Controller', register: 3, bit: 0 })).toEqual({ byte: 7, bit: 0 });
    expect(place({ side: 'Controller', register: 3, bit: 8 })).toEqual({ byte: 6, bit: 0 });
    expect(place({ side: 'Swapped', register: 103, bit: 8 })).toEqual({ byte: 7, bit: 0 });
    expect(place({ side: 'Far end', byte: 3, bit: 7 })).toEqual({ byte: 7, bit: 7 });
    expect(place({ side: 'Bits', register: 25 })).toEqual({ byte: 9, bit: 1 });
    expect(place({ side: 'Controller', register: 3 }))
      .withContext('its lower byte in the image')
      .toEqual({ byte: 6, bit: null });
    const told = sidePlacesOf(windows, { byte: 9, bit: 1 }).map(({ side, byte, word, register, bit }) => [side, byte, word, register, bit]);
    expect(told).toEqual([
      ['Controller', 9, 4, 4, 1],
      ['Far end', 5, 2, null, 1],
      ['Swapped', 9, 4, 104, 9],
      ['Bits', 1, 0, 25, null],
    ]);
  });

  it('says what a side does not reach, and what is no bit of it', () => {
    expect(place({ side: 'Far end', byte: 8 })).toBe('Far end reaches no byte 8 of the image.');
    expect(place({ side: 'Controller', register: 6 })).toBe('Controller reaches no register 6 of the image.');
    expect(place({ side: 'Nobody', byte: 0 })).toContain('There is no side “Nobody”; there is “Controller”');
    expect(place({ side: 'Far end', byte: 0, bit: 8 })).toBe('A byte has the bits 0 to 7.');
    expect(place({ side: 'Controller', register: 0, bit: 16 })).toBe('A register has the bits 0 to 15.');
    expect(place({ side: 'Bits', register: 16, bit: 0 })).toBe('What is a bit already has none of its own.');
    expect(Window.safeParse({ ...windows[0], byte: 65_535, bytes: 2 }).error?.issues[0]?.path).toEqual(['bytes']);
  });

  it('is the same place, whichever side names it', () => {
    fc.assert(
      fc.property(fc.nat(11), fc.nat(7), (byte, bit) => {
        for (const { side, register, bit: own, window, byte: sideByte } of sidePlacesOf(windows, { byte, bit })) {
          const named: Named =
            register === null ? { side, byte: sideByte, bit } : { side, register, ...(own === null ? {} : { bit: own }) };
          expect(imagePlaceOf([window], named)).toEqual({ ok: true, value: { byte, bit } });
        }
      }),
    );
  });
});
