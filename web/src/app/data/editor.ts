import { inject, Injectable } from '@angular/core';
import { MatSnackBar } from '@angular/material/snack-bar';
import { ProjectStore } from './project';

/** Undo and redo with a word about what was done, wherever they are asked for. */
@Injectable({ providedIn: 'root' })
export class Editor {
  private readonly project = inject(ProjectStore);
  private readonly messages = inject(MatSnackBar);

  step(kind: 'undo' | 'redo'): void {
    const done = kind === 'undo' ? 'Undone' : 'Done again';
    this.project.step(kind).subscribe((answer) => this.say(answer.ok ? `${done}: ${answer.value.label}` : answer.problem.message));
  }

  /** Stays until somebody closes it. */
  keep(text: string): void {
    this.messages.open(text, 'Close', { politeness: 'assertive' });
  }

  say(text: string): void {
    this.messages.open(text, undefined, { duration: 4000, politeness: 'polite' });
  }
}
