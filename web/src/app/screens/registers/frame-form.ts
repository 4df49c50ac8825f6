import { FormArray, FormGroup } from '@angular/forms';
import { hexIdentifier, identifierProblem, type IdentifierBits, lastIdentifier, MOST_BYTES } from '@plain-envoy/core/can';
import type { DeviceFrame, FrameWhen, Point } from '@plain-envoy/core/model';
import type { PointType } from '@plain-envoy/core/types';
import { controlOf, textControl } from '../../parts/controls';
import { typedNumber } from '../../parts/form';
import type { Issue } from '../../parts/schema-group';
import type { Stretch } from './bit-grid';

/** The controls of one signal; `id` of the point that it is, null for one that is new. */
export function signalGroup(id: string | null, name: string, type: PointType, { firstBit, bits, order }: Stretch) {
  return new FormGroup({
    id: controlOf<string | null>(id),
    name: textControl(name),
    type: controlOf<PointType>(type),
    firstBit: textControl(firstBit),
    bits: textControl(bits),
    order: controlOf(order),
  });
}
export type TypedSignal = ReturnType<ReturnType<typeof signalGroup>['getRawValue']>;

/** The controls of a frame, and of the points in it: numbers as texts, the identifier in hex or decimal as it is typed. */
export function frameGroup(frame: DeviceFrame, points: readonly Point[]) {
  const { when } = frame;
  return new FormGroup({
    name: textControl(frame.name),
    direction: controlOf(frame.direction),
    identifierBits: controlOf<IdentifierBits>(frame.identifierBits),
    identifier: textControl(`0x${hexIdentifier(frame)}`),
    bytes: textControl(frame.bytes),
    fill: textControl(frame.fill),
    on: controlOf<FrameWhen['on']>(when.on),
    periodMs: textControl(when.on === 'period' ? when.periodMs : when.on === 'change' ? (when.atLeastMs ?? '') : ''),
    firstBit: textControl(when.on === 'toggle' ? when.firstBit : 0),
    toggleBits: controlOf<1 | 8>(when.on === 'toggle' ? when.bits : 1),
    lostAfterMs: textControl(frame.lostAfterMs),
    passes: controlOf<'apart' | 'whole'>(frame.whole ? 'whole' : 'apart'),
    mask: textControl(`0x${hexIdentifier({ ...frame, identifier: frame.whole?.mask ?? lastIdentifier(frame.identifierBits) })}`),
    records: textControl(frame.whole?.records ?? 1),
    signals: new FormArray(
      points.flatMap(({ id, name, type, place }) => (place.kind === 'signal' ? [signalGroup(id, name, type, place)] : [])),
    ),
  });
}
export type FrameGroup = ReturnType<typeof frameGroup>;
export type TypedFrame = ReturnType<FrameGroup['getRawValue']>;

/** What was typed, as the schema is asked about it; `kept` are the ids and the note. */
export function frameOfTyped(typed: TypedFrame, kept: Pick<DeviceFrame, 'id' | 'projectId' | 'deviceId' | 'note'>): unknown {
  const { name, direction, identifierBits, fill } = typed;
  const isWhole = typed.passes === 'whole';
  return {
    ...{ id: kept.id, projectId: kept.projectId, deviceId: kept.deviceId, note: kept.note },
    ...{ name: name.trim(), direction, identifierBits },
    identifier: identifierTyped(typed.identifier),
    bytes: isWhole ? MOST_BYTES : typedNumber(typed.bytes),
    fill: isWhole ? '' : fill.replace(/\s/g, '').toUpperCase(),
    when: isWhole ? { on: 'change', atLeastMs: null } : whenOf(typed),
    lostAfterMs: typedNumber(typed.lostAfterMs),
    whole: isWhole ? { mask: identifierTyped(typed.mask), records: typedNumber(typed.records) } : null,
  };
}

/** `0x18A01003`, or a decimal number; NaN where it is neither. */
export function identifierTyped(text: string): number {
  const typed = text.trim();
  return /^0x[0-9a-f]+$/i.test(typed) ? parseInt(typed.slice(2), 16) : typedNumber(typed);
}

/** The same identifier in the other of the two ways in which people write it; empty where it is none. */
export function identifierOtherwise({ identifier, identifierBits }: Pick<TypedFrame, 'identifier' | 'identifierBits'>): string {
  const number = identifierTyped(identifier);
  if (!Number.isInteger(number) || number < 0 || identifierProblem({ identifierBits, identifier: number })) return '';
  return /^\s*0x/i.test(identifier) ? `${number} in decimal` : `0x${hexIdentifier({ identifierBits, identifier: number })}`;
}

function whenOf({ on, periodMs, firstBit, toggleBits }: TypedFrame): unknown {
  if (on === 'period') return { on, periodMs: typedNumber(periodMs) };
  if (on === 'change') return { on, atLeastMs: periodMs.trim() === '' ? null : typedNumber(periodMs) };
  if (on === 'toggle') return { on, firstBit: typedNumber(firstBit), bits: toggleBits };
  return { on };
}

/** Where in the form a problem of the schema belongs. */
export function frameIssueAt({ path, message }: Issue): Issue {
  const [first, second] = path.map(String);
  if (first === 'whole') return { message, path: [second ?? 'passes'] };
  if (first !== 'when') return { message, path: first === undefined ? [] : [first] };
  return {
    message,
    path: [{ periodMs: 'periodMs', atLeastMs: 'periodMs', firstBit: 'firstBit', bits: 'toggleBits' }[second ?? ''] ?? 'on'],
  };
}

/** What of a signal that was typed is a number; a problem with where it is to be mended otherwise. */
export function stretchTyped({ firstBit, bits, order }: TypedSignal): Stretch {
  return { firstBit: typedNumber(firstBit), bits: typedNumber(bits), order };
}
