import { type Failure } from '@plain-envoy/core/failure';
import { MessageChannel, type MessagePort } from 'node:worker_threads';
import type { PortSettings } from '@plain-envoy/core/line';
import { type Channel, openSerialPort } from '../links/index.js';
import { inBackground } from '../background/index.js';

/** From the thread that has opened the serial port. */
type FromPort = { bytes: Uint8Array } | { left: true } | { end: Failure };
/** From the thread that uses it. */
type ToPort = { bytes: Uint8Array } | { close: true };

/**
 * Opens a serial port here for another thread: the system's binding works in the main thread only. What comes back is to be
 * handed over and used with `borrowedChannel`; the port is closed when the other thread closes it or ends. Rejects with a
 * sentence where it cannot be opened.
 */
export async function lendSerialPort(path: string, settings: PortSettings): Promise<MessagePort> {
  const serial = await openSerialPort(path, settings);
  const { port1, port2 } = new MessageChannel();
  const tell = (message: FromPort) => port1.postMessage(message);
  serial.listen(
    (bytes) => tell({ bytes }),
    (failure) => tell({ end: failure }),
  );
  port1.on('message', (message: ToPort) => {
    if ('close' in message) port1.close();
    else inBackground(serial.write(message.bytes).then(() => tell({ left: true })));
  });
  port1.on('close', () => serial.close());
  return port2;
}

/** The far end of a lent serial port, as any channel. */
export function borrowedChannel(port: MessagePort): Channel {
  const leaving: (() => void)[] = [];
  const tell = (message: ToPort) => port.postMessage(message);
  return {
    write: (bytes) =>
      new Promise((left) => {
        leaving.push(left);
        tell({ bytes });
      }),
    listen(onBytes, onEnd) {
      port.on('message', (message: FromPort) => {
        if ('bytes' in message) onBytes(message.bytes);
        else if ('left' in message) leaving.shift()?.();
        else {
          onEnd(message.end);
          port.close();
        }
      });
      port.on('close', () => {
        for (const left of leaving.splice(0)) left();
      });
    },
    close: () => tell({ close: true }),
  };
}
