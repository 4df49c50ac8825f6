/** Exception codes (V1.1b3, section 7): the standard's name, and what it usually means to the person who sees it. */
export const exceptions: Readonly<Record<number, { name: string; meaning: string }>> = {
  1: { name: 'illegal function', meaning: 'the device does not have this function code' },
  2: { name: 'illegal data address', meaning: 'the device has no register at this address, or the request runs past its last one' },
  3: { name: 'illegal data value', meaning: 'the device refuses this value, or the count in the request' },
  4: { name: 'server device failure', meaning: 'the device failed while it worked on the request' },
  5: { name: 'acknowledge', meaning: 'the device has accepted the request and needs longer to carry it out' },
  6: { name: 'server device busy', meaning: 'the device is busy with an earlier request; ask again later' },
  8: { name: 'memory parity error', meaning: 'the device found its own memory damaged' },
  10: { name: 'gateway path unavailable', meaning: 'the gateway has no way to this unit ID; it is not in its table or its line is down' },
  11: { name: 'gateway target failed to respond', meaning: 'the gateway asked, and no device with this unit ID answered' },
};

export const ILLEGAL_FUNCTION = 1;
export const ILLEGAL_DATA_ADDRESS = 2;
export const ILLEGAL_DATA_VALUE = 3;
export const GATEWAY_PATH_UNAVAILABLE = 10;
export const GATEWAY_TARGET_FAILED = 11;

/** Whether a gateway says it, not the device behind it. */
export function isOfGateway(code: number): boolean {
  return code === GATEWAY_PATH_UNAVAILABLE || code === GATEWAY_TARGET_FAILED;
}

/** `exception 2, illegal data address: the device has no register …` */
export function describeException(code: number): string {
  const known = exceptions[code];
  return known ? `exception ${code}, ${known.name}: ${known.meaning}` : `exception ${code}, which the standard does not name`;
}
