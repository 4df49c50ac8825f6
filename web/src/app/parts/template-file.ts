/** What a saved device is called as a file. */
export function templateFileName(name: string): string {
  return `${name.toLowerCase().replace(/[^a-z0-9]+/g, '-')}.device.json`;
}
