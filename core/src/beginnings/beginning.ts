import type { ProjectMaker } from '../making/index.js';

/** What is asked of whoever begins a project, beside its name. */
export interface Wished {
  /** How many field devices it begins with. */
  devices: number;
}

/** A way to begin a project. */
export interface Beginning {
  id: string;
  /** As it is chosen. */
  name: string;
  /** What is there then, in a sentence. */
  says: string;
  /** How many field devices it can begin with; null where that is not asked. */
  devices: { most: number; usual: number } | null;
  make(maker: ProjectMaker, wished: Wished): void;
}

/** What a beginning is in a list of choices. */
export type Begun = Pick<Beginning, 'id' | 'name' | 'says' | 'devices'>;
