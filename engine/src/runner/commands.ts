import type { Connection } from './connections.js';
import type { Silence } from './job.js';

/** What a person or an errand wants done once at an endpoint, before everything that waits for it. */
export interface Command {
  endpointId: string;
  work(connection: Connection): Promise<Silence>;
  giveUp(): void;
}

/** The commands that have not begun yet. */
export class Commands {
  private readonly waiting = new Map<string, Command>();
  private given = 0;

  /** Returns the id by which the scheduler calls it. */
  give(command: Command): string {
    this.given += 1;
    const id = `command ${this.given}`;
    this.waiting.set(id, command);
    return id;
  }

  /** The command of this id, which now begins; undefined where the id is of something else. */
  take(id: string): Command | undefined {
    const command = this.waiting.get(id);
    this.waiting.delete(id);
    return command;
  }

  giveUp(which: (command: Command) => boolean = () => true): void {
    for (const [id, command] of this.waiting) {
      if (!which(command)) continue;
      this.waiting.delete(id);
      command.giveUp();
    }
  }
}
