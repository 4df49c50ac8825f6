import { type Failure, failureError } from '@plain-envoy/core/failure';
import { readdir } from 'node:fs/promises';
import { connect, type Socket } from 'node:net';
import { formatSettings, type PortSettings } from '@plain-envoy/core/line';

/** Bytes to and from the far end of a serial line or of a socket; framing is the business of whoever uses it. */
export interface Channel {
  /** Resolves when the bytes have left. */
  write(bytes: Uint8Array): Promise<void>;
  /** One listener for bytes, one for the end; the end is told once, with what went wrong. */
  listen(onBytes: (bytes: Uint8Array) => void, onEnd: (failure: Failure) => void): void;
  close(): void;
}

export const CONNECT_TIMEOUT_MS = 3000;

/** What the system says of a connection that was not made, as a fact. */
export function connectFailure({ code, message }: NodeJS.ErrnoException, host: string, port: number): Failure {
  switch (code) {
    case 'ECONNREFUSED':
      return { code: 'refused-connection', host, port };
    case 'EHOSTUNREACH':
    case 'ENETUNREACH':
      return { code: 'unreachable', host, port };
    case 'ECONNRESET':
      return { code: 'closed-at-once', host, port };
    default:
      return { code: 'connect-failed', host, port, detail: message };
  }
}

/** Rejects with a `FailureError` where nothing listens there. */
export function openSocket(host: string, port: number): Promise<Channel> {
  return new Promise((opened, failed) => {
    const socket = connect({ host, port, noDelay: true, keepAlive: true });
    const fail = (failure: Failure) => {
      socket.destroy();
      failed(failureError(failure));
    };
    socket.setTimeout(CONNECT_TIMEOUT_MS, () => fail({ code: 'not-accepted', host, port, afterMs: CONNECT_TIMEOUT_MS }));
    socket.once('error', (error: NodeJS.ErrnoException) => fail(connectFailure(error, host, port)));
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
      socket.once('close', () => onEnd({ code: 'closed' }));
      if (socket.destroyed) onEnd({ code: 'closed' });
    },
    close: () => socket.destroy(),
  };
}

/** Rejects with a `FailureError` where the port cannot be opened with these settings. */
export async function openSerialPort(path: string, settings: PortSettings): Promise<Channel> {
  const { SerialPort } = await import('serialport');
  const { baud: baudRate, dataBits, parity, stopBits, handshake = 'none' } = settings;
  const flow = { rtscts: handshake === 'rts-cts', xon: handshake === 'xon-xoff', xoff: handshake === 'xon-xoff' };
  const port = new SerialPort({ path, baudRate, dataBits, parity, stopBits, ...flow, autoOpen: false });
  await new Promise<void>((opened, failed) =>
    port.open((error) =>
      error
        ? failed(failureError({ code: 'own-port', detail: `${path} cannot be opened at ${formatSettings(settings)}: ${error.message}.` }))
        : opened(),
    ),
  );
  return {
    write: (bytes) => new Promise((left) => port.write(Buffer.from(bytes), () => port.drain(() => left()))),
    listen(onBytes, onEnd) {
      port.on('data', onBytes);
      port.once('close', () => onEnd({ code: 'own-port', detail: `${path} was closed.` }));
      port.on('error', (error) => onEnd({ code: 'own-port', detail: `${path} failed: ${error.message}.` }));
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
