/** One kept change set: an edit by a person, or the undoing or redoing of one. */
export interface HistoryEntry {
  id: string;
  kind: 'edit' | 'undo' | 'redo';
  /** The edit that was undone or redone; its own id for an edit. */
  of: string;
}

/** Which edits can be undone and which redone, the next one last. A new edit ends the chance to redo. */
export function undoStacks(history: readonly HistoryEntry[]): { undo: string[]; redo: string[] } {
  const undo: string[] = [];
  let redo: string[] = [];
  for (const entry of history) {
    if (entry.kind === 'edit') {
      undo.push(entry.id);
      redo = [];
    } else if (entry.kind === 'undo') {
      redo.push(take(undo, entry.of));
    } else {
      undo.push(take(redo, entry.of));
    }
  }
  return { undo, redo };
}

function take(stack: string[], id: string): string {
  const at = stack.lastIndexOf(id);
  if (at >= 0) stack.splice(at, 1);
  return id;
}
