/** How one question to a unit ended, before anybody looks into the PDU. */
export type Exchange =
  { kind: 'answer'; pdu: Uint8Array } | { kind: 'no response' } | { kind: 'corrupt'; why: string } | { kind: 'not connected'; why: string };

/** Carries one PDU to a unit and its answer back. A transport knows framing and time, and no function code. */
export interface ClientTransport {
  /** Never rejects: whatever happens is one of the ways in which an exchange ends. `timeoutMs` counts from the sending. */
  exchange(unit: number, pdu: Uint8Array, timeoutMs: number): Promise<Exchange>;
  close(): void;
}
