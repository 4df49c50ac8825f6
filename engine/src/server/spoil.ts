/** How a stand-in spoils what it answers, on purpose: the unit that it says, and the frames that go out. */
export interface Spoil {
  unitFor(unit: number): number;
  spoil(frame: Uint8Array, isTcp: boolean): Uint8Array[];
  /** Whether a connection ends after what has just gone out, as it does when a server dies while it answers. */
  readonly hangsUp: boolean;
}
