/** What is heard on a serial port, as it comes: `atMs` since the listening began, bytes as hex digits. */
export type ListenEvent =
  { kind: 'listening' } | { kind: 'heard'; port: number; atMs: number; hex: string } | { kind: 'failed'; sentence: string };

/** What comes in at an interface of CAN: each frame as a line of a log. */
export type CanListenEvent = { kind: 'listening' } | { kind: 'heard'; line: string } | { kind: 'failed'; sentence: string };

/** The interfaces of CAN that the machine of the server has (SocketCAN). */
export interface CanInterfaces {
  interfaces: { name: string; isUp: boolean }[];
  /** What has to be installed before they can be heard; null where nothing is missing. */
  lacks: string | null;
}
