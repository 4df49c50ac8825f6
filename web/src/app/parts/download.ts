/** Lets the browser save what is at this address, under this name. */
export function download(address: string, name: string): void {
  const link = document.createElement('a');
  link.href = address;
  link.download = name;
  link.click();
}

/** How long the browser has to begin with what it saves, ms. */
const TAKEN_MS = 10_000;

/** The same for what the page holds itself. */
export function downloadBlob(blob: Blob, name: string): void {
  const address = URL.createObjectURL(blob);
  download(address, name);
  setTimeout(() => URL.revokeObjectURL(address), TAKEN_MS);
}
