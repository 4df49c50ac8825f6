/** What a channel of an analog module measures or gives: a span of its unit over a raw range, or steps of the unit. */
export interface ChannelRange {
  name: string;
  unit: string;
  /** The ends of the span; null where each step of the raw value is `step` units. */
  span: readonly [low: number, high: number] | null;
  step: number;
  /** Raw values go below 0. */
  isSigned: boolean;
  /** Said of its points. */
  note: string;
}

const span = (name: string, unit: string, low: number, high: number, note = ''): ChannelRange => ({
  ...{ name, unit, span: [low, high], step: 1, note },
  isSigned: low < 0,
});
const liveZero = (unit: string, low: number) => `Its zero is alive: below ${low} ${unit} the wire is broken.`;
const degrees = (name: string): ChannelRange => ({ name, unit: '°C', span: null, step: 0.1, isSigned: true, note: '' });

/** The ranges of the trade. A new one is its line here. */
export const channelRanges = {
  counts: { name: 'as counted', unit: '', span: null, step: 1, isSigned: false, note: '' },
  'signed counts': { name: 'as counted, below 0 too', unit: '', span: null, step: 1, isSigned: true, note: '' },
  '0–10 V': span('0 to 10 V', 'V', 0, 10),
  '±10 V': span('−10 to 10 V', 'V', -10, 10),
  '2–10 V': span('2 to 10 V', 'V', 2, 10, liveZero('V', 2)),
  '0–20 mA': span('0 to 20 mA', 'mA', 0, 20),
  '4–20 mA': span('4 to 20 mA', 'mA', 4, 20, liveZero('mA', 4)),
  Pt100: degrees('Pt100, tenths of a degree'),
  Pt1000: degrees('Pt1000, tenths of a degree'),
  thermocouple: degrees('thermocouple, tenths of a degree'),
} as const satisfies Record<string, ChannelRange>;

export type ChannelRangeId = keyof typeof channelRanges;
