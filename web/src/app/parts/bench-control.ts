import { inject, Injectable } from '@angular/core';
import { Api } from '../data/api';
import { Editor } from '../data/editor';
import { Live } from '../data/live';
import { ProjectStore } from '../data/project';

/** Runs and stops the bench, from wherever it is asked for. */
@Injectable({ providedIn: 'root' })
export class BenchControl {
  private readonly api = inject(Api);
  private readonly project = inject(ProjectStore);
  private readonly live = inject(Live);
  private readonly editor = inject(Editor);

  async toggle(): Promise<void> {
    const id = this.project.document()?.project.id;
    const answer = this.live.running() ? await this.api.post('bench/stop') : await this.api.post(`projects/${id}/bench/run`);
    if (!answer.ok) this.editor.say(answer.problem.message);
  }
}
