// For npm scripts that need an up-to-date build first.
import { build } from './build.mjs';
import { orHalt } from './places.mjs';

await orHalt(() => build('node'));
