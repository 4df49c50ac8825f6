import type { Held } from '../iec104/index.js';

export const IEC104_NOON = Date.UTC(2026, 10, 28, 12, 34, 56, 789);
const time = { atMs: IEC104_NOON, invalid: false, summer: false };
/** 56 789 ms is DDD5; minute 34; hour 12; Saturday the 28th is 6 and 28; November 26. */
const AT = 'D5 DD 22 0C DC 0B 1A';

/** One object of each type at address 131 173 (65 00 02) of station 12, written down by hand: its octets, what they hold, and in words. */
export const iec104Vectors: { type: number; hex: string; held: Held; says: string }[] = [
  { type: 1, hex: '01 01 03 00 0C 00 65 00 02 11', held: { value: 1, blocked: true }, says: 'on, blocked' },
  { type: 3, hex: '03 01 03 00 0C 00 65 00 02 82', held: { value: 2, invalid: true }, says: 'on, invalid' },
  { type: 9, hex: '09 01 03 00 0C 00 65 00 02 00 C0 00', held: { value: -0.5 }, says: '-0.5' },
  { type: 11, hex: '0B 01 03 00 0C 00 65 00 02 39 30 40', held: { value: 12_345, notTopical: true }, says: '12345, not topical' },
  { type: 13, hex: '0D 01 03 00 0C 00 65 00 02 00 00 48 41 01', held: { value: 12.5, overflow: true }, says: '12.5, overflow' },
  {
    type: 15,
    hex: '0F 01 03 00 0C 00 65 00 02 15 CD 5B 07 23',
    held: { value: 123_456_789, sequence: 3, carry: true },
    says: '123456789 (reading 3), went over its end',
  },
  { type: 30, hex: `1E 01 03 00 0C 00 65 00 02 00 ${AT}`, held: { value: 0, time }, says: 'off, 2026-11-28 12:34:56.789 UTC' },
  { type: 31, hex: `1F 01 03 00 0C 00 65 00 02 01 ${AT}`, held: { value: 1, time }, says: 'off, 2026-11-28 12:34:56.789 UTC' },
  { type: 34, hex: `22 01 03 00 0C 00 65 00 02 00 40 00 ${AT}`, held: { value: 0.5, time }, says: '0.5, 2026-11-28 12:34:56.789 UTC' },
  {
    type: 35,
    hex: `23 01 03 00 0C 00 65 00 02 FF FF 20 ${AT}`,
    held: { value: -1, substituted: true, time },
    says: '-1, substituted, 2026-11-28 12:34:56.789 UTC',
  },
  {
    type: 36,
    hex: `24 01 03 00 0C 00 65 00 02 00 00 20 C1 00 ${AT}`,
    held: { value: -10, time },
    says: '-10, 2026-11-28 12:34:56.789 UTC',
  },
  {
    type: 37,
    hex: `25 01 03 00 0C 00 65 00 02 FF FF FF FF 00 ${AT}`,
    held: { value: -1, sequence: 0, time },
    says: '-1 (reading 0), 2026-11-28 12:34:56.789 UTC',
  },
  {
    type: 45,
    hex: '2D 01 06 00 0C 00 65 00 02 85',
    held: { value: 1, qualifier: 1, select: true },
    says: 'on as a short pulse, only selected',
  },
  { type: 46, hex: '2E 01 06 00 0C 00 65 00 02 0A', held: { value: 2, qualifier: 2 }, says: 'on as a long pulse' },
  { type: 48, hex: '30 01 06 00 0C 00 65 00 02 00 20 00', held: { value: 0.25, qualifier: 0 }, says: '0.25, executed' },
  { type: 49, hex: '31 01 06 00 0C 00 65 00 02 E8 03 80', held: { value: 1000, select: true }, says: '1000, only selected' },
  { type: 50, hex: '32 01 06 00 0C 00 65 00 02 00 00 80 3F 00', held: { value: 1 }, says: '1, executed' },
  {
    type: 58,
    hex: `3A 01 06 00 0C 00 65 00 02 0C ${AT}`,
    held: { value: 0, qualifier: 3, time },
    says: 'off to stay, 2026-11-28 12:34:56.789 UTC',
  },
  {
    type: 59,
    hex: `3B 01 06 00 0C 00 65 00 02 01 ${AT}`,
    held: { value: 1, qualifier: 0, time },
    says: 'off, 2026-11-28 12:34:56.789 UTC',
  },
  {
    type: 61,
    hex: `3D 01 06 00 0C 00 65 00 02 00 80 00 ${AT}`,
    held: { value: -1, time },
    says: '-1, executed, 2026-11-28 12:34:56.789 UTC',
  },
  {
    type: 62,
    hex: `3E 01 06 00 0C 00 65 00 02 07 00 00 ${AT}`,
    held: { value: 7, time },
    says: '7, executed, 2026-11-28 12:34:56.789 UTC',
  },
  {
    type: 63,
    hex: `3F 01 06 00 0C 00 65 00 02 00 00 80 BF 00 ${AT}`,
    held: { value: -1, time },
    says: '-1, executed, 2026-11-28 12:34:56.789 UTC',
  },
  { type: 70, hex: '46 01 04 00 0C 00 65 00 02 00', held: { value: 0 }, says: 'power was switched on' },
  { type: 100, hex: '64 01 06 00 0C 00 65 00 02 14', held: { value: 20 }, says: 'the whole station' },
  { type: 101, hex: '65 01 06 00 0C 00 65 00 02 45', held: { value: 5, freeze: 1 }, says: 'all, frozen' },
  { type: 103, hex: `67 01 06 00 0C 00 65 00 02 ${AT}`, held: { time }, says: '2026-11-28 12:34:56.789 UTC' },
];
