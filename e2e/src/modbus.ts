import { createRequire } from 'node:module';

const ModbusRTU = createRequire(import.meta.url)('modbus-serial') as typeof import('modbus-serial').default;

/** A Modbus TCP client of other hands, connected to a unit of a stand-in. */
export async function clientOf(host: string, port: number, unit: number) {
  const client = new ModbusRTU();
  await client.connectTCP(host, { port });
  client.setID(unit);
  return client;
}
