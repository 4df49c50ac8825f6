/** What makes books as files. It is loaded where a book is made: its fonts and its way of laying pages out take much room, in threads of their own. */
export function makers(): Promise<typeof import('./makers.js')> {
  return import('./makers.js');
}
