import type { Type } from '@angular/core';

/** What is meant by a field: one sentence, and a drawing where a picture says more. */
export interface HelpTopic {
  readonly sentence: string;
  readonly drawing: Type<unknown> | null;
}
