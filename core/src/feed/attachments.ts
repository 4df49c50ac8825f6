/** A file that belongs to a device, as it is listed. */
export interface Attachment {
  id: string;
  deviceId: string;
  name: string;
  /** In bytes. */
  size: number;
  atMs: number;
  /** Who gave it, where one has to sign in. */
  by: string | null;
}
