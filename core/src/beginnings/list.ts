import type { Beginning } from './beginning.js';
import { demo } from './demo.js';
import { empty } from './empty.js';
import { gateway } from './gateway.js';
import { rtu } from './rtu.js';
import { tcp } from './tcp.js';

export type { Beginning, Begun, Wished } from './beginning.js';

/** The ways to begin a project, as they are offered. A new one is a file of its own and its line here. */
export const beginnings: readonly Beginning[] = [rtu, tcp, gateway, empty, demo];
