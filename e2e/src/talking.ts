import { crc16 } from '@plain-envoy/core/frame';
import { closeSync, openSync, writeSync } from 'node:fs';
// Who listens counts by the machine’s clock.
import { clearInterval, clearTimeout, setInterval, setTimeout } from 'node:timers';

/** A master that reads four holding registers of unit 5 at offset 16, and the answers, as they go over a line that ends at this path. */
export function talking(path: string, everyMs: number): { end(): void } {
  const line = openSync(path, 'r+');
  let asked = 0;
  let answering: NodeJS.Timeout | undefined;
  const send = (...bytes: number[]) => {
    const crc = crc16(Uint8Array.from(bytes));
    writeSync(line, Uint8Array.from([...bytes, crc & 0xff, crc >> 8]));
  };
  const timer = setInterval(() => {
    asked += 1;
    send(5, 3, 0, 16, 0, 4);
    answering = setTimeout(() => send(5, 3, 8, 0, asked & 0xff, 0, 1, 0x41, asked & 0xff, 0, 0), 12);
  }, everyMs);
  return {
    end() {
      // An answer that is still to come would go to a cable that is gone.
      clearInterval(timer);
      clearTimeout(answering);
      closeSync(line);
    },
  };
}
