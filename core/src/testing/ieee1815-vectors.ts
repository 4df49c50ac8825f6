import type { Held } from '../ieee1815/index.js';

export const IEEE1815_NOON = Date.UTC(2026, 10, 28, 12, 34, 56, 789);
/** 1 795 869 296 789 ms is 01A2 2226 C895, the low octet first. */
const AT = '95 C8 26 22 A2 01';
const on = { online: true };

/** One object of each variation, index 5, written down by hand: its octets, what they hold, and in words. */
export const ieee1815Vectors: { group: number; variation: number; hex: string; held: Held; says: string }[] = [
  { group: 1, variation: 2, hex: '81', held: { ...on, value: 1 }, says: 'on' },
  { group: 2, variation: 1, hex: '03', held: { ...on, restart: true, value: 0 }, says: 'off, since its restart' },
  { group: 2, variation: 2, hex: `81 ${AT}`, held: { ...on, value: 1, time: IEEE1815_NOON }, says: 'on, 2026-11-28 12:34:56.789 UTC' },
  { group: 2, variation: 3, hex: '81 E8 03', held: { ...on, value: 1, afterMs: 1000 }, says: 'on, 1000 ms after the common time' },
  { group: 3, variation: 2, hex: '81', held: { ...on, value: 2 }, says: 'on' },
  { group: 4, variation: 1, hex: 'C0', held: { online: false, value: 3 }, says: 'indeterminate, offline' },
  { group: 4, variation: 2, hex: `41 ${AT}`, held: { ...on, value: 1, time: IEEE1815_NOON }, says: 'off, 2026-11-28 12:34:56.789 UTC' },
  { group: 4, variation: 3, hex: '01 0A 00', held: { ...on, value: 0, afterMs: 10 }, says: 'in between, 10 ms after the common time' },
  { group: 10, variation: 2, hex: '81', held: { ...on, value: 1 }, says: 'on' },
  { group: 20, variation: 1, hex: '01 15 CD 5B 07', held: { ...on, value: 123_456_789 }, says: '123456789' },
  { group: 20, variation: 2, hex: '21 39 30', held: { ...on, rollover: true, value: 12_345 }, says: 'went over its end, 12345' },
  { group: 20, variation: 5, hex: 'FF FF FF FF', held: { value: 2 ** 32 - 1 }, says: '4294967295' },
  { group: 20, variation: 6, hex: 'FF FF', held: { value: 65_535 }, says: '65535' },
  { group: 22, variation: 1, hex: '01 01 00 00 00', held: { ...on, value: 1 }, says: '1' },
  { group: 22, variation: 2, hex: '01 02 00', held: { ...on, value: 2 }, says: '2' },
  { group: 30, variation: 1, hex: '01 FF FF FF FF', held: { ...on, value: -1 }, says: '-1' },
  { group: 30, variation: 2, hex: '21 FF 7F', held: { ...on, overRange: true, value: 32_767 }, says: 'past its range, 32767' },
  { group: 30, variation: 3, hex: '00 00 00 80', held: { value: -(2 ** 31) }, says: '-2147483648' },
  { group: 30, variation: 4, hex: '00 80', held: { value: -32_768 }, says: '-32768' },
  { group: 30, variation: 5, hex: '01 00 00 48 41', held: { ...on, value: 12.5 }, says: '12.5' },
  { group: 32, variation: 1, hex: '01 E8 03 00 00', held: { ...on, value: 1000 }, says: '1000' },
  { group: 32, variation: 2, hex: '01 E8 03', held: { ...on, value: 1000 }, says: '1000' },
  {
    group: 32,
    variation: 3,
    hex: `01 E8 03 00 00 ${AT}`,
    held: { ...on, value: 1000, time: IEEE1815_NOON },
    says: '1000, 2026-11-28 12:34:56.789 UTC',
  },
  {
    group: 32,
    variation: 4,
    hex: `01 E8 03 ${AT}`,
    held: { ...on, value: 1000, time: IEEE1815_NOON },
    says: '1000, 2026-11-28 12:34:56.789 UTC',
  },
  { group: 32, variation: 5, hex: '01 00 00 20 C1', held: { ...on, value: -10 }, says: '-10' },
  {
    group: 32,
    variation: 7,
    hex: `01 00 00 80 3F ${AT}`,
    held: { ...on, value: 1, time: IEEE1815_NOON },
    says: '1, 2026-11-28 12:34:56.789 UTC',
  },
  { group: 40, variation: 1, hex: '01 05 00 00 00', held: { ...on, value: 5 }, says: '5' },
  { group: 40, variation: 2, hex: '01 05 00', held: { ...on, value: 5 }, says: '5' },
  { group: 40, variation: 3, hex: '01 00 00 00 40', held: { ...on, value: 2 }, says: '2' },
];
