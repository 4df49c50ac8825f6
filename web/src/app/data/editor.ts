import { inject, Injectable } from '@angular/core';
import { Messages } from './messages';
import { ProjectStore } from './project';

/** Undo and redo with a word about what was done, wherever they are asked for. */
@Injectable({ providedIn: 'root' })
export class Editor {
  private readonly project = inject(ProjectStore);
  private readonly messages = inject(Messages);

  step(kind: 'undo' | 'redo'): void {
    const done = kind === 'undo' ? 'Undone' : 'Done again';
    this.project.step(kind).subscribe((answer) => this.say(answer.ok ? `${done}: ${answer.value.label}` : answer.problem.message));
  }

  /** Stays until somebody closes it. */
  keep(text: string): void {
    this.messages.keep(text);
  }

  say(text: string): void {
    this.messages.say(text);
  }
}
