import type { Point } from '../model/index.js';
import type { EventPlace } from '../place/index.js';
import { coil, word } from './kiln.js';
import { calm, point, route, steady, tenths } from './make.js';
import { plant } from './site.js';

/** What the grid station hears of the plant and says to it, where the grid converter has it, and how it gets to the kiln controller. */
type Fields = Omit<Parameters<typeof point>[1], 'table' | 'place' | 'type'> & { type?: Point['type'] };
const at = (sort: EventPlace['sort'], index: number, fields: Partial<EventPlace> = {}): EventPlace => ({
  ...{ kind: 'event', sort, index, part: 'value', eventClass: 1, threshold: 0, periodMs: null, withTime: true },
  ...{ selectFirst: false, pulseMs: null, pinned: false },
  ...fields,
});
const heard = (place: EventPlace, fields: Fields): Point =>
  point(plant.gridStation, { table: 'holding', type: 'uint16', place, ...fields });
const said = (place: Point['place'], fields: Fields): Point =>
  point(plant.gridStation, { table: 'input', type: 'uint16', place, ...fields });

const levels = ['none', 'to 60 %', 'to 30 %', 'off'].map((name, value) => ({ value, name }));
const grid = {
  power: heard(at('float', 0, { eventClass: 2, threshold: 1 }), { name: 'Power drawn', offset: 0, scale: tenths, unit: 'kW' }),
  energy: heard(at('counter', 0, { eventClass: 3 }), { name: 'Energy drawn', offset: 1, type: 'uint32', unit: 'kWh' }),
  alarm: heard(at('single', 0), { name: 'Plant alarm', offset: 3, bit: 0, type: 'bit' }),
  number: heard(at('float', 1, { eventClass: 2 }), { name: 'Number', offset: 4 }),
  curtailment: said(at('set float', 0, { selectFirst: true }), { name: 'Curtailment', offset: 0, codes: levels }),
  stop: said(at('command', 0, { pulseMs: 2000 }), { name: 'Stop the turner', offset: 1, bit: 0, type: 'bit' }),
  back: said(at('set float', 1), { name: 'Number back', offset: 2, note: 'The number that came, and one.' }),
  isUp: said({ kind: 'stationState', state: 'connected', pinned: false }, { name: 'Link is up', offset: 3, bit: 0, type: 'bit' }),
  kept: said({ kind: 'stationState', state: 'kept', pinned: false }, { name: 'Events kept', offset: 4 }),
};

const told = { power: { scale: tenths, unit: 'kW' }, energy: { type: 'uint32', unit: 'kWh' } } as const;
route('Power to the grid', word(264, 'Power for the grid', told.power), grid.power, 'value', calm);
route('Energy to the grid', word(266, 'Energy for the grid', told.energy), grid.energy, 'value', calm);
route('Alarm to the grid', coil(56, 'Plant alarm'), grid.alarm, 'value', steady);
route('Grid number', word(260, 'Grid number'), grid.number, 'registers', steady);
route('Curtailment', grid.curtailment, word(261, 'Curtailment', { codes: levels }), 'registers', steady);
route('Grid stops the turner', grid.stop, coil(57, 'Grid stops the turner'), 'value', steady);
route('Grid number back', grid.back, word(262, 'Grid number back'), 'registers', steady);
route('Grid link is up', grid.isUp, coil(58, 'Grid link is up'), 'value', steady);
route('Grid events kept', grid.kept, word(263, 'Grid events kept'), 'registers', steady);
