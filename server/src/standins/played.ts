import type { ProjectDocument } from '@plain-envoy/core/model';
import type { StandInsControl } from './control-client.js';
import { inBackground } from '@plain-envoy/engine/background';

/**
 * Which project the stand-ins play: the one that was last run. They follow its edits, because what is set in a port is what
 * is set on the device. Edits are followed one after the other; of several that wait, only the last.
 */
export class Played {
  /** Why they could not be set as the project is; null when they are. */
  problem: string | null = null;
  private projectId: string | null = null;
  private last: ProjectDocument | null = null;
  private next: ProjectDocument | null = null;
  private busy: Promise<void> | null = null;

  constructor(
    private readonly control: StandInsControl,
    private readonly onProblem: (problem: string | null) => void,
  ) {}

  /** Resolves when the stand-ins are set as this project is, or have said why not. */
  async play(document: ProjectDocument): Promise<void> {
    this.projectId = document.project.id;
    this.last = document;
    this.next = document;
    this.busy ??= this.work().finally(() => (this.busy = null));
    await this.busy;
  }

  /** Sets them again as the project is that they play: they have forgotten it. */
  again(): void {
    if (this.last) inBackground(this.play(this.last));
  }

  edited(document: ProjectDocument): void {
    if (document.project.id === this.projectId) inBackground(this.play(document));
  }

  private async work(): Promise<void> {
    for (let document; (document = this.next);) {
      this.next = null;
      try {
        await this.control.follow(document);
        this.problem = null;
      } catch (error) {
        this.problem = error instanceof Error ? error.message : String(error);
      }
      this.onProblem(this.problem);
    }
  }
}
