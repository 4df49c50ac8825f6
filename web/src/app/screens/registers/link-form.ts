import { FormArray, FormGroup } from '@angular/forms';
import { blockStretch } from '@plain-envoy/core/can-line';
import type { Point } from '@plain-envoy/core/model';
import type { FarPlace } from '@plain-envoy/core/place';
import type { PointType } from '@plain-envoy/core/types';
import { controlOf, textControl } from '../../parts/controls';
import { typedNumber } from '../../parts/form';
import type { Stretch } from './bit-grid';

type BlockPlace = Omit<Extract<FarPlace, { kind: 'cyclic' }>, 'kind' | 'block' | 'pinned'>;

/** The controls of one value in a block; `id` of the point that it is, null for one that is new. */
export function valueGroup(id: string | null, name: string, type: PointType, { byte, bit, bits, order }: BlockPlace) {
  return new FormGroup({
    id: controlOf<string | null>(id),
    name: textControl(name),
    type: controlOf<PointType>(type),
    byte: textControl(byte),
    bit: textControl(bit),
    bits: textControl(bits),
    order: controlOf(order),
  });
}
export type TypedValue = ReturnType<ReturnType<typeof valueGroup>['getRawValue']>;

/** The controls of the values of one block. */
export function blockGroup(points: readonly Point[]) {
  return new FormGroup({
    values: new FormArray(
      points.flatMap(({ id, name, type, place }) => (place.kind === 'cyclic' ? [valueGroup(id, name, type, place)] : [])),
    ),
  });
}
export type TypedBlock = ReturnType<ReturnType<typeof blockGroup>['getRawValue']>;

/** What of a value that was typed is a number; NaN where it is none. */
export function placeTyped({ byte, bit, bits, order }: TypedValue): BlockPlace {
  return { byte: typedNumber(byte), bit: typedNumber(bit), bits: typedNumber(bits), order };
}

/** The bits that were marked, as papers have them: by byte and bit. */
export function placeOfMark({ firstBit, bits, order }: Stretch): BlockPlace {
  const lowest = order === 'big' ? (bits > 8 ? 0 : Math.max(0, (firstBit & 7) - bits + 1)) : firstBit & 7;
  return { byte: firstBit >> 3, bit: lowest, bits, order };
}

/** The same as the grid of bits has it; null where it is no place yet. */
export function stretchOfPlace(place: BlockPlace): Stretch | null {
  const isPlace =
    [place.byte, place.bit, place.bits].every((one) => Number.isInteger(one) && one >= 0) && place.bits >= 1 && place.bits <= 64;
  return isPlace && place.bit <= 7 ? blockStretch(place) : null;
}
