import { inject, Injectable } from '@angular/core';
import { Editor } from '../data/editor';
import { Hands } from '../data/hands';

/** Runs and stops the bench, from wherever it is asked for. */
@Injectable({ providedIn: 'root' })
export class BenchControl {
  private readonly hands = inject(Hands);
  private readonly editor = inject(Editor);

  toggle(): void {
    this.hands.toggle().subscribe((answer) => {
      if (!answer.ok) this.editor.say(answer.problem.message);
    });
  }
}
