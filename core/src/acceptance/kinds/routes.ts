import { placeText } from '../../mapping/index.js';
import type { Device, Point } from '../../model/index.js';
import type { PlannedRoute } from '../../plan/index.js';
import { alongside, expectedAt, fingerprint, tellTales, textAt, textOf } from '../../proof/index.js';
import { describeChain } from '../../steps/index.js';
import { isFloat } from '../../types/index.js';
import type { AcceptanceStep, StepKind } from '../definition.js';

/** So many values are set. */
const VALUES = 2;
/** And of a number with a point so many digits. */
const DIGITS = 3;

/** A step for each route: values that tell mistakes apart at its source, and what its destination must show for each. */
export const routeSteps: StepKind = ({ document, plan }) => {
  const devices = new Map(document.devices.map((device) => [device.id, device]));
  const placed = (point: Point) => {
    const device = devices.get(point.deviceId) as Device;
    return `${device.name} ${point.name} (${placeText(document, point, device)})`;
  };
  return plan.routes.map((route, index): AcceptanceStep => {
    const { source, destination } = route;
    const values = valuesOf(route, index + 1);
    const set = values.length ? values.map(({ sent }) => sent).join(', then at ') : 'two values that it can have';
    return {
      ...{ sort: 'route', of: route.id, which: '', title: route.name },
      does: {
        works: `${besides(route)}Have ${placed(source)} at ${set}.`,
        site: `${besides(route)}Read ${placed(source)} at the device itself, at two different moments.`,
      },
      sees: {
        works: [
          `${placed(destination)} shows ${values.length ? values.map(({ shown }) => shown).join(', then ') : 'the same'}, within ${within(route)} s.`,
        ],
        site: [`${placed(destination)} shows ${onTheWay(route)} each time, within ${within(route)} s.`],
      },
      rests: fingerprint(plan, route.id) ?? '',
    };
  });
};

/** Values that go across, the first and the last of those that tell mistakes apart. */
function valuesOf(route: PlannedRoute, own: number): { sent: string; shown: string }[] {
  const { source, destination } = route;
  const fitting = tellTales(source, own).flatMap(({ value }) => {
    const sent = typeof value === 'number' && isFloat(source.type) ? Number(value.toPrecision(DIGITS)) : value;
    const expected = expectedAt(sent, route, { source, destination }, alongside(route));
    return expected.ok
      ? [{ sent: said(textOf(sent, source), source), shown: said(textAt(expected.value.words, destination), destination) }]
      : [];
  });
  return fitting.length > VALUES ? [fitting[0]!, fitting.at(-1)!] : fitting;
}

/** Bits are on or off. */
function said(text: string, { type }: Point): string {
  return type === 'bit' ? (text === '0' ? 'off' : 'on') : text;
}

/** What becomes of a value that is read. */
function onTheWay({ transforms }: PlannedRoute): string {
  const steps = describeChain(transforms);
  return steps ? `what was read there, with ${steps},` : 'what was read there';
}

/** What else has to hold. */
function besides({ whileId, trigger, others }: PlannedRoute): string {
  const name = (id: string) => others.find((point) => point.id === id)?.name ?? 'its condition';
  const held = whileId ? `Have ${name(whileId)} on. ` : '';
  if (trigger.on === 'edge') return `${held}After each value let ${name(trigger.pointId)} go on. `;
  return trigger.on === 'start' ? `${held}It goes once, when the carrier starts. ` : held;
}

/** A value may have just missed being read. */
function within({ periodMs }: PlannedRoute): number {
  return Math.max(1, Math.ceil((2 * periodMs) / 100) / 10);
}
