import { FormControl } from '@angular/forms';
import { numberValidator, typedNumber } from './form';

describe('What is typed as a number', () => {
  it('is read with a comma or a point, and is no number where it is none', () => {
    expect([' 12,5 ', '0x1F', '-3'].map(typedNumber)).toEqual([12.5, 31, -3]);
    expect(['', '  ', 'twelve', '1 2'].map(typedNumber)).toEqual([NaN, NaN, NaN, NaN]);
  });

  it('is refused in its field where it is none, but not before anything is typed', () => {
    const told = (text: string) => numberValidator(new FormControl(text));
    expect([told(''), told(' '), told('61,5')]).toEqual([null, null, null]);
    expect(told(' sixty ')).toEqual({ text: '“sixty” is no number.' });
  });
});
