import { hash } from '../../common/index.js';
import { causesFirst } from '../../findings/index.js';
import type { AcceptanceStep, StepKind } from '../definition.js';

const SETTLED = ['It is mended, or it may stay for the reason in the note.'];

/** A step for each finding that is still open. */
export const findingSteps: StepKind = ({ findings }) =>
  [...findings].sort(causesFirst).map(({ at, check, message, mend }): AcceptanceStep => ({
    ...{ sort: 'finding', of: at.id, which: [check, at.field ?? ''].join(' ').trim(), title: message },
    does: { works: mend, site: `Look whether it holds at the plant. ${mend}` },
    sees: { works: SETTLED, site: SETTLED },
    rests: hash(message),
  }));
