import type { ProjectDocument } from '@plain-envoy/core/model';
import type { StandInsControl } from './control-client.js';
import { inBackground } from '@plain-envoy/engine/background';

/**
 * The stand-ins of a project. They follow its edits from the first time that they are wanted, because what is set in a port is what
 * is set on the device. Edits are followed one after the other; of several that wait, only the last.
 */
export class Played {
  /** Why they could not be set as the project is; null when they are. */
  problem: string | null = null;
  private last: ProjectDocument | null = null;
  private next: ProjectDocument | null = null;
  private busy: Promise<void> | null = null;

  /** `port` is where they listen in the place of TCP port 502, as long as they have not said otherwise. */
  constructor(
    private readonly control: StandInsControl,
    public port: number,
    private readonly onSet: (problem: string | null, port: number) => void,
    /** They listen elsewhere than before. */
    private readonly onMoved: (document: ProjectDocument) => void,
  ) {}

  /** Resolves when the stand-ins are set as this project is, or have said why not. */
  async play(document: ProjectDocument): Promise<void> {
    this.last = document;
    if (!this.control.areThere) return;
    this.next = document;
    this.busy ??= this.work().finally(() => (this.busy = null));
    await this.busy;
  }

  /** The same where they are not played yet; else they follow already. */
  async ensure(document: ProjectDocument): Promise<void> {
    if (this.last) await this.busy;
    else await this.play(document);
  }

  /** Sets them again as the project is: they have forgotten it. */
  again(): void {
    if (this.last) inBackground(this.play(this.last));
  }

  edited(document: ProjectDocument): void {
    if (this.last) inBackground(this.play(document));
  }

  private async work(): Promise<void> {
    for (let document; (document = this.next);) {
      this.next = null;
      const before = this.port;
      try {
        this.port = await this.control.follow(document);
        this.problem = null;
      } catch (error) {
        this.problem = error instanceof Error ? error.message : String(error);
      }
      this.onSet(this.problem, this.port);
      if (this.port !== before) this.onMoved(document);
    }
  }
}
