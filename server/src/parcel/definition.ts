import type { ProjectFile } from '@plain-envoy/core/project-file';
import type { Plan } from '@plain-envoy/core/plan';

/** What a parcel is made of. */
export interface Contents {
  file: ProjectFile;
  plan: Plan;
  /** Ends what is made in another thread. */
  signal: AbortSignal | undefined;
}

/** A file that is to be in a parcel: `stem` is its name without what its format adds, and `write` makes it. */
export interface Wanted {
  /** Its folder in the parcel; none for the top. */
  folder: string;
  stem: string;
  extension: string;
  /** `tell` hears how much of it is made, 0 to 1, where that takes long. */
  write(tell: (part: number) => void): Promise<string | Uint8Array> | string | Uint8Array;
}

/** A part of a parcel: which files it brings. */
export type ParcelPart = (contents: Contents) => Wanted[];
