import * as z from 'zod';
import { nameAll, NameRules } from '../names/index.js';
import { good } from '../outcome/index.js';
import { reckoner } from './reckoner.js';

export const names = reckoner({
  name: 'names',
  sentence: 'Names of points as legal names of variables, each only once.',
  example: {
    names: ['Actual speed', 'Drehzahl Lüfter (Hz)', 'actual speed'],
    rules: { maxLength: 24, allow: 'A-Za-z0-9_', case: 'as-is', firstMustBeLetter: true },
  },
  input: z.strictObject({ names: z.array(z.string().max(1000)).max(20_000), rules: NameRules }),
  output: z.object({ names: z.array(z.object({ from: z.string(), to: z.string(), changed: z.array(z.string()) })) }),
  reckon: (input) => good({ names: nameAll(input.names, input.rules) }),
});
