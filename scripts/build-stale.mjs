// For npm scripts that need an up-to-date build first: of node, or of the parts that are named.
import { build } from './build.mjs';
import { orHalt } from './places.mjs';

const parts = process.argv.slice(2);
await orHalt(() => build(...(parts.length ? parts : ['node'])));
