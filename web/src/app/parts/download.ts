/** Lets the browser save what is at this address, under this name. */
export function download(address: string, name: string): void {
  const link = document.createElement('a');
  link.href = address;
  link.download = name;
  link.click();
}
