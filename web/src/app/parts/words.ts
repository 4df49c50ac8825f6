/** Values of choices as the trade writes them; what is not here is written as it is. */
const words: Readonly<Record<string, string>> = {
  'rs485-two-wire': 'RS-485 two-wire',
  'rs485-four-wire': 'RS-485 four-wire',
  rs485: 'RS-485',
  rs422: 'RS-422',
  rs232: 'RS-232',
  rtu: 'RTU',
  ascii: 'ASCII',
  tcp: 'TCP',
  dte: 'DTE',
  dce: 'DCE',
  'rts-cts': 'RTS/CTS',
  'xon-xoff': 'XON/XOFF',
  ieee1815: 'IEEE 1815',
  'iec60870-5-101': 'IEC 60870-5-101',
  'iec60870-5-104': 'IEC 60870-5-104',
  resistance: 'through 100 Ω',
  pdu: 'zero-based offset',
  number: 'one-based number',
  reference5: 'five-digit reference',
  reference6: 'six-digit reference',
  area: 'the controller’s own area',
  asIs: 'as the zero-based offset',
  subtractsOne: 'as a one-based number',
  'words-first': 'all words, then all bits',
  'in-order': 'module after module',
  counts: 'as counted',
  'signed counts': 'as counted, below 0 too',
  nearest: 'to the nearest',
  wrap: 'begin again at the other end',
  stop: 'stay at the end',
};

export function wordOf(value: string | number): string {
  return words[value] ?? String(value);
}
