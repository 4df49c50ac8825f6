import type { Action, KeyNote } from '../parts/actions';

/** What can be done on every screen. A new one is its line here and its handler in the shell. */
export const everywhere: readonly Action[] = [
  { id: 'find', name: 'Find anything', keys: 'Ctrl+K' },
  { id: 'undo', name: 'Undo', keys: 'Ctrl+Z' },
  { id: 'redo', name: 'Redo', keys: 'Ctrl+Shift+Z' },
  { id: 'redo', name: 'Redo', keys: 'Ctrl+Y' },
  { id: 'bench', name: 'Run or stop the bench', keys: 'Alt+Enter' },
  { id: 'findings', name: 'Findings', keys: 'Alt+W' },
  { id: 'reckoner', name: 'Reckoner', keys: 'R' },
  { id: 'keys', name: 'Keys', keys: '?' },
  { id: 'projects', name: 'All projects' },
  { id: 'about', name: 'Name, client and note of this project' },
  { id: 'tour', name: 'Tour of the demo, in five steps' },
  { id: 'colours', name: 'Colours: next of system, light, dark' },
];

/** What keys do in parts that many screens have. */
export const inParts: readonly KeyNote[] = [
  { keys: '↑ ↓ Home End', does: 'In a table or list: to the row above or below, the first, the last' },
  { keys: 'Enter', does: 'In a table or list: open or take what the keyboard is on' },
  { keys: 'Shift+↑ ↓, Space, Ctrl+A', does: 'Where several can be chosen: from here to there, one more or less, all' },
  { keys: '← →', does: 'In a row of tabs: to the tab beside' },
  { keys: '↑ ↓ ← →, Enter', does: 'On the bar between two panes: move it, fold the second pane or unfold it' },
  { keys: 'F1', does: 'In a field: what is meant by it' },
  { keys: 'Escape', does: 'Close the panel, or let go of what was begun' },
];
