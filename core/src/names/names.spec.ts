import * as fc from 'fast-check';
import { nameAll, type NameRules } from './index.js';

const rules = (also: Partial<NameRules> = {}): NameRules => ({
  maxLength: 24,
  allow: 'A-Za-z0-9_',
  case: 'as-is',
  firstMustBeLetter: true,
  ...also,
});
const to = (names: string[], also: Partial<NameRules> = {}) => nameAll(names, rules(also)).map((one) => one.to);

describe('Names of variables', () => {
  it('are left alone where they are legal', () => {
    expect(nameAll(['Speed', 'Fan_2'], rules())).toEqual([
      { from: 'Speed', to: 'Speed', changed: [] },
      { from: 'Fan_2', to: 'Fan_2', changed: [] },
    ]);
  });

  it('have umlauts and other letters written out, and nothing that is not allowed', () => {
    expect(to(['Drehzahl Lüfter (Hz)', 'Größe', 'Température d’air', 'µ²', '§§', ' a  b '])).toEqual([
      'Drehzahl_Luefter_Hz',
      'Groesse',
      'Temperature_d_air',
      'u2',
      'Unnamed',
      'a_b',
    ]);
    expect(to(['Actual speed'], { allow: 'A-Za-z0-9' })).toEqual(['Actualspeed']);
    expect(to(['Lüfter'], { allow: 'A-Za-zü' })).toEqual(['Lüfter']);
  });

  it('have the case that is wanted', () => {
    const names = ['Actual fan-speed 2', 'actualSpeed'];
    expect(to(names, { case: 'upper' })).toEqual(['ACTUAL_FAN_SPEED_2', 'ACTUALSPEED']);
    expect(to(names, { case: 'lower' })).toEqual(['actual_fan_speed_2', 'actualspeed']);
    expect(to(names, { case: 'camel' })).toEqual(['actualFanSpeed2', 'actualSpeed']);
    expect(to(names, { case: 'snake' })).toEqual(['actual_fan_speed_2', 'actual_speed']);
  });

  it('begin with a letter, are not too long, are no word of the language, and are each there once', () => {
    expect(to(['2nd fan', 'On', 'on', 'A very long name of a point'], { reserved: ['ON'], maxLength: 12 })).toEqual([
      'n2nd_fan',
      'On_2',
      'on_3',
      'A_very_long_',
    ]);
    expect(to(['Speed', 'speed', 'SPEED'], { maxLength: 5 })).toEqual(['Speed', 'spe_2', 'SPE_3']);
    expect(nameAll(['if'], rules({ reserved: ['IF'] }))[0]!.changed).toEqual(['“if” is a word that is reserved']);
    expect(nameAll(['a b', 'a_b'], rules())[1]!.changed).toEqual(['“a_b” is there already']);
  });

  it('are legal and each there once, whatever they were, and the same at every time', () => {
    const any = fc.array(fc.string({ unit: 'grapheme', maxLength: 30 }), { maxLength: 30 });
    fc.assert(
      fc.property(
        any,
        fc.constantFrom('as-is' as const, 'upper' as const, 'lower' as const, 'camel' as const, 'snake' as const),
        (names, wanted) => {
          const made = to(names, { case: wanted, reserved: ['a', 'n2'] });
          expect(made.filter((name) => !/^[A-Za-z]\w{0,23}$/.test(name))).toEqual([]);
          expect(new Set(made.map((name) => name.toLowerCase())).size).toBe(names.length);
          expect(to(names, { case: wanted, reserved: ['a', 'n2'] })).toEqual(made);
        },
      ),
    );
  });
});
