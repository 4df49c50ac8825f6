import { readdir } from 'node:fs/promises';
import { connect, type Socket } from 'node:net';
import { formatSettings, type SerialSettings } from '@plain-envoy/core/line';

/** Bytes to and from the far end of a serial line or of a socket; framing is the business of whoever uses it. */
export interface Channel {
  /** Resolves when the bytes have left. */
  write(bytes: Uint8Array): Promise<void>;
  /** One listener for bytes, one for the end; the end is told once, with a reason. */
  listen(onBytes: (bytes: Uint8Array) => void, onEnd: (why: string) => void): void;
  close(): void;
}

const CONNECT_TIMEOUT_MS = 3000;

/** Rejects with a sentence where nothing listens there. */
export function openSocket(host: string, port: number): Promise<Channel> {
  return new Promise((opened, failed) => {
    const socket = connect({ host, port, noDelay: true, keepAlive: true });
    const fail = (why: string) => {
      socket.destroy();
      failed(new Error(why));
    };
    socket.setTimeout(CONNECT_TIMEOUT_MS, () => fail(`${host}:${port} did not accept a connection within ${CONNECT_TIMEOUT_MS} ms.`));
    socket.once('error', (error) => fail(`${host}:${port} could not be connected: ${error.message}.`));
    socket.once('connect', () => {
      socket.setTimeout(0);
      socket.removeAllListeners('error');
      opened(socketChannel(socket));
    });
  });
}

export function socketChannel(socket: Socket): Channel {
  socket.on('error', () => socket.destroy());
  return {
    write: (bytes) => new Promise((left) => (socket.destroyed ? left() : socket.write(bytes, () => left()))),
    listen(onBytes, onEnd) {
      socket.on('data', onBytes);
      socket.once('close', () => onEnd('The connection was closed.'));
      if (socket.destroyed) onEnd('The connection was closed.');
    },
    close: () => socket.destroy(),
  };
}

/** Rejects with a sentence where the port cannot be opened with these settings. */
export async function openSerialPort(path: string, settings: SerialSettings): Promise<Channel> {
  const { SerialPort } = await import('serialport');
  const { baud: baudRate, dataBits, parity, stopBits } = settings;
  const port = new SerialPort({ path, baudRate, dataBits, parity, stopBits, autoOpen: false });
  await new Promise<void>((opened, failed) =>
    port.open((error) =>
      error ? failed(new Error(`${path} cannot be opened at ${formatSettings(settings)}: ${error.message}.`)) : opened(),
    ),
  );
  return {
    write: (bytes) => new Promise((left) => port.write(Buffer.from(bytes), () => port.drain(() => left()))),
    listen(onBytes, onEnd) {
      port.on('data', onBytes);
      port.once('close', () => onEnd(`${path} was closed.`));
      port.on('error', (error) => onEnd(`${path} failed: ${error.message}.`));
    },
    close: () => {
      if (port.isOpen) port.close();
    },
  };
}

/** The serial ports of this machine: their paths, and what the system says of the hardware behind them, where it can say. */
export async function listSerialPorts(): Promise<{ path: string; about: string }[]> {
  const { SerialPort } = await import('serialport');
  const found = await SerialPort.list().catch(() => null);
  // A small machine has no program that describes its hardware; its ports have their usual names all the same.
  if (!found) return (await readdir('/dev')).filter((name) => usualNames.test(name)).map((name) => ({ path: `/dev/${name}`, about: '' }));
  return found.map(({ path, manufacturer, serialNumber, pnpId }) => ({
    path,
    about: [manufacturer, serialNumber, pnpId].filter(Boolean).join(', '),
  }));
}

const usualNames = /^tty(S|USB|ACM|AMA|XRUSB)\d+$/;
