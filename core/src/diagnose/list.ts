import type { CauseDefinition } from './cause.js';
import { addressTwice, connections, gatewayUnit, refused, unreachable, wayToLine } from './causes/connection.js';
import { allDamaged, answersTwice, cutShort, noise, someDamaged, twoAtOnce, wrongUnit } from './causes/damage.js';
import {
  absent,
  gatewayOutwaits,
  late,
  line,
  link,
  lost,
  settings,
  severalOpen,
  silentServer,
  timeoutShort,
  unitTwice,
} from './causes/silence.js';

/** Everything that may be the reason, in no order: how probable what is seen would be decides. */
export const causes: readonly CauseDefinition[] = [
  ...[silentServer, absent, line, settings, unitTwice, late, gatewayOutwaits, timeoutShort, lost, link, severalOpen],
  ...[wrongUnit, cutShort, allDamaged, someDamaged, twoAtOnce, noise, answersTwice],
  ...[addressTwice, connections, refused, unreachable, wayToLine, gatewayUnit],
];
