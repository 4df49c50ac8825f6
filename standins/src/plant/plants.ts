import { Mutex } from 'async-mutex';
import type { Wiring } from '@plain-envoy/core/playing';
import { Plant } from './plant.js';

/** From one place to try to the next: projects often have ports that differ by a few, which follow 502 as they are. */
const STEP = 1000;
const TRIES = 12;
/** Ports for which one need not be root, and that systems do not give to those who only ask. */
const [FIRST_PORT, LAST_PORT] = [1024, 32_767];

/**
 * The stand-ins of every project that is played, each at a TCP port of its own in the place of 502, so that projects with the same
 * addresses run side by side and none hears what is meant for another.
 */
export class Plants {
  private readonly plants = new Map<string, Plant>();
  private readonly turns = new Mutex();

  /** `firstPort` is tried first, then one after the other above it. */
  constructor(private readonly firstPort: number) {}

  get(projectId: string): Plant | undefined {
    return this.plants.get(projectId);
  }

  /**
   * Makes the stand-ins of a project, or sets them as it is now. Resolves with the port at which they listen, which is another where they
   * would get in somebody's way. Rejects with the system's error where there is no such port; then those listen that can.
   */
  play(projectId: string, wiring: Wiring): Promise<number> {
    return this.turns.runExclusive(async () => {
      const known = this.plants.get(projectId);
      const plant = known ?? new Plant(wiring, this.places()[0]!);
      if (!known) {
        this.plants.set(projectId, plant);
        plant.begin();
      }
      const first = plant.port;
      let problem: unknown;
      for (const port of [first, ...this.places().filter((place) => place !== first)]) {
        try {
          await plant.rewire(wiring, port);
          return port;
        } catch (error) {
          problem ??= error;
          if ((error as NodeJS.ErrnoException).code !== 'EADDRINUSE') break;
        }
      }
      await plant.rewire(wiring, first).catch(() => undefined);
      throw problem;
    });
  }

  end(projectId: string): Promise<void> {
    return this.turns.runExclusive(async () => {
      const plant = this.plants.get(projectId);
      this.plants.delete(projectId);
      await plant?.stop();
    });
  }

  async endAll(): Promise<void> {
    for (const projectId of [...this.plants.keys()]) await this.end(projectId);
  }

  /** Ports that no other project has, the first to be tried first. */
  private places(): number[] {
    const taken = new Set([...this.plants.values()].map(({ port }) => port));
    const span = LAST_PORT - FIRST_PORT + 1;
    const all = Array.from({ length: TRIES + taken.size }, (_, step) => FIRST_PORT + ((this.firstPort - FIRST_PORT + step * STEP) % span));
    return all.filter((port) => !taken.has(port)).slice(0, TRIES);
  }
}
