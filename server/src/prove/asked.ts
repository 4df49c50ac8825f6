import { LAST_OFFSET, Offset, Table } from '@plain-envoy/core/address';
import { z } from 'zod';

/** Where a proof goes: to the stand-ins, or to the addresses and ports of the real plant, which a person arms first. */
export const On = z.enum(['stand-ins', 'real']);
const Unit = z.int('A whole number.').min(1, 'Unit IDs on a line are 1 to 247.').max(247, 'Unit IDs on a line are 1 to 247.');
const TcpPort = z.int('A whole number.').min(1, 'TCP ports start at 1.').max(65_535, 'TCP ports end at 65535.');
const Patience = z.int('A whole number of milliseconds.').min(20, 'At least 20 ms.').max(10_000, 'At most 10 000 ms.');

/** Addresses times ports that one sweep tries at most. */
export const MAX_TARGETS = 8192;

export const AskReach = z.strictObject({ on: On, deviceId: z.uuid() });
/** Whether those that are not designed are told by their registers. */
const registers = z.boolean().default(true);
export const AskUnits = z.strictObject({ on: On, lineId: z.uuid(), first: Unit, last: Unit, timeoutMs: Patience, registers });
export const AskHosts = z.strictObject({
  on: On,
  lineId: z.uuid(),
  first: z.ipv4('An IPv4 address is written like 10.40.8.1.'),
  last: z.ipv4('An IPv4 address is written like 10.40.8.254.'),
  ports: z.array(TcpPort).min(1, 'At least one TCP port.').max(64, 'At most 64 TCP ports.'),
  timeoutMs: Patience,
  registers,
});
/** Registers that one reading of a span takes at most; bits are as many. */
export const MAX_READ = 4000;

export const AskRead = z
  .strictObject({
    on: On,
    deviceId: z.uuid(),
    table: Table,
    first: Offset,
    count: z.int('A whole number.').min(1, 'At least one register.').max(MAX_READ, `At most ${MAX_READ} at a time.`),
    everyMs: z
      .int('A whole number of milliseconds.')
      .min(100, 'At least 100 ms.')
      .max(60_000, 'At most 60 000 ms.')
      .nullable()
      .default(null),
  })
  .refine(({ first, count }) => first + count - 1 <= LAST_OFFSET, { message: `A table ends at offset ${LAST_OFFSET}.`, path: ['count'] });
export const AskSettings = z.strictObject({ on: On, lineId: z.uuid(), unitId: Unit, timeoutMs: Patience });

export type AskReach = z.infer<typeof AskReach>;
export type AskUnits = z.infer<typeof AskUnits>;
export type AskHosts = z.infer<typeof AskHosts>;
export type AskRead = z.infer<typeof AskRead>;
export type AskSettings = z.infer<typeof AskSettings>;
