import type { MadeFileEvent } from '@plain-envoy/core/feed';

/** A file that the server made. */
export interface MadeFile {
  name: string;
  blob: Blob;
}

/** The file out of what its making told last. */
export function madeFile({ name, mediaType, base64 }: Extract<MadeFileEvent, { kind: 'done' }>): MadeFile {
  const bytes = Uint8Array.from(atob(base64), (sign) => sign.charCodeAt(0));
  return { name, blob: new Blob([bytes], { type: mediaType }) };
}
