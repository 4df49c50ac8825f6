import { compile } from '../compile/index.js';
import { fernhollow } from '../demo/index.js';
import { applyChanges, type ProjectDocument, type Row } from '../model/index.js';
import { lostWhen, unnoticed } from './index.js';

const demo = fernhollow();
const whenIn = (document: ProjectDocument) => {
  const all = lostWhen(document, compile(document).plan);
  return (name: string) => all.find(({ failing }) => failing.name === name);
};
const when = whenIn(demo);
const tripsOf = (name: string) => when(name)!.trips.map(({ device, by, afterMs }) => [device, by, afterMs]);
const lostOf = (name: string, route: string, of = when) => of(name)?.lost.find((row) => row.route === route);

describe('What is lost when', () => {
  it('a device fails: what it says stands still at once where nothing marks it', () => {
    expect(lostOf('Exhaust damper', 'Damper position')).toEqual(
      jasmine.objectContaining({ effect: 'stands still', by: '', fromMs: 0, toMs: 500, destination: 'Kiln controller Damper position' }),
    );
    expect(when('Exhaust damper')!.lost.map(({ route }) => route)).not.toContain('Damper set point');
  });

  it('a gateway or a line fails: all behind it, and what is written there is not', () => {
    expect(lostOf('Kiln gateway', 'Damper position')?.effect).toBe('stands still');
    expect(lostOf('Kiln bus', 'Damper set point')?.effect).toBe('not written');
    expect(tripsOf('Kiln gateway')).toEqual([
      ['Fan drive north', 'all that is written to it', 3000],
      ['Fan drive south', 'all that is written to it', 3000],
    ]);
    expect(lostOf('Kiln bus', 'Fan north set point')).toEqual(
      jasmine.objectContaining({ effect: 'not written', by: 'Fan drive north trips after 3 s' }),
    );
    expect(unnoticed(when('Kiln bus')!).map(({ route }) => route)).toContain('Damper set point');
    expect(unnoticed(when('Kiln bus')!).map(({ route }) => route)).not.toContain('Fan north set point');
    expect(when('Process net')!.lost.length).withContext('everything goes over it').toBe(compile(demo).plan.routes.length);
  });

  it('what lies behind a converter fails: the converter tells, after its time, and marks what comes with it', () => {
    const position = demo.frames.find(({ name }) => name === 'Position')!;
    const valid = compile(demo).plan.routes.find(({ name }) => name === 'Turner position is valid')!;
    const toMs = position.lostAfterMs + valid.periodMs;
    expect(lostOf('Floor turner', 'Turner drive position')).toEqual(
      jasmine.objectContaining({ effect: 'marked', by: 'Kiln controller Turner position is valid', toMs }),
    );
    expect(lostOf('Floor turner', 'Turner position is valid')).toEqual(jasmine.objectContaining({ effect: 'tells', by: 'goes off', toMs }));
    expect(lostOf('Turner CAN', 'Turner drive position')?.effect).toBe('marked');
    expect(lostOf('Turner converter', 'Turner drive position')?.effect).withContext('then nobody tells').toBe('stands still');
    expect(when('Turner CAN')!.trips.map(({ device, by }) => [device, by])).toContain(['Floor turner', 'Sequence wanted']);
  });

  it('what lies behind a converter fails: what the converter counts and keeps itself is not lost', () => {
    const lost = (name: string) => when(name)!.lost.map(({ route }) => route);
    expect(lost('Weigh indicator')).not.toContain('Weighings damaged');
    expect(lost('Text port')).toContain('Weighings damaged');
    expect(lost('Grid link')).not.toContain('Grid events kept');
    expect(lost('Grid link')).toContain('Grid link is up');
  });

  it('says which point tells of it, and where only who carries it is gone', () => {
    const valid = demo.points.find(({ name }) => name === 'Turner position is valid')!;
    const { markId, effect } = lostOf('Turner CAN', 'Turner drive position')!;
    expect([effect, demo.points.find(({ id }) => id === markId)?.name]).toEqual(['marked', valid.name]);
    expect(lostOf('Kiln controller', 'Damper set point')?.byCarrier).toBeTrue();
    expect(lostOf('Kiln bus', 'Damper set point')?.byCarrier).toBeFalse();
  });

  it('a loss rule says something else: substituted or marked, within a period of its time', () => {
    const route = demo.routes.find(({ name }) => name === 'Damper position')!;
    const ruled = (loss: object) =>
      whenIn(
        applyChanges(demo, [
          {
            entity: 'route',
            id: route.id,
            before: route as unknown as Row,
            after: { ...route, loss: { ...route.loss, ...loss } } as unknown as Row,
          },
        ]),
      );
    const bit = demo.points.find(
      ({ name, deviceId }) =>
        name === 'Turner drive lives' && deviceId === demo.points.find(({ id }) => id === route.destinationId)!.deviceId,
    )!;
    expect(lostOf('Kiln gateway', 'Damper position', ruled({ rule: 'value', value: 50, afterMs: 5000 }))).toEqual(
      jasmine.objectContaining({ effect: 'substituted', by: '50', fromMs: 4500, toMs: 5500 }),
    );
    expect(lostOf('Kiln gateway', 'Damper position', ruled({ rule: 'invalid', validId: bit.id, afterMs: 3000 }))).toEqual(
      jasmine.objectContaining({ effect: 'marked', by: 'Turner drive lives', fromMs: 2500, toMs: 3500 }),
    );
  });

  it('the controller that carries fails: nothing is written where it did, and watchdogs trip', () => {
    expect(when('Kiln controller')!.lost.every(({ effect }) => effect === 'not written')).toBeTrue();
    expect(tripsOf('Kiln controller')).toContain(['Steep controller', 'Heartbeat in', 4000]);
    expect(tripsOf('Steep controller')).toEqual([['Kiln controller', 'Steep heartbeat', 5000]]);
  });
});
