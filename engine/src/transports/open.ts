import { framingOf } from '@plain-envoy/core/frame';
import { type PortSettings, type SerialSettings, settingsOf, silenceMs } from '@plain-envoy/core/line';
import type { Dial } from '@plain-envoy/core/plan';
import { type Channel, ChannelTransport, type ClientTransport, failed, openSocket } from '../links/index.js';
import { textSilenceMs } from '@plain-envoy/core/text-line';
import { serialServerAt } from '@plain-envoy/core/media';
import { StationTransport } from '../stations/index.js';
import { TextTransport } from '../text/index.js';
import { socketTransports } from './list.js';

/** What of this machine is opened otherwise in each thread: adapters to simulated lines, and serial ports. Both reject with a sentence. */
export interface OwnPorts {
  /** The port on loopback at which the adapter to a line listens, once it is set like this. */
  adapter(lineId: string, settings: SerialSettings): Promise<number>;
  serial(path: string, settings: PortSettings): Promise<Channel>;
}

type Openers = { [Kind in Dial['kind']]: (dial: Extract<Dial, { kind: Kind }>, own: OwnPorts) => ClientTransport };

const openers: Openers = {
  socket: ({ framing, host, port }) => socketTransports[framing].client(host, port),
  adapter: ({ framing, lineId, settings }, own) =>
    new ChannelTransport(async () => openSocket('127.0.0.1', await own.adapter(lineId, settings)), framing),
  serial: ({ framing, path, settings, cutsEcho }, own) =>
    new ChannelTransport(
      () => own.serial(path, settings),
      framing,
      framingOf(framing).hasSilence ? silenceMs(settings) : 0,
      cutsEcho ? 'cut away' : 'told',
    ),
  text: ({ to, lineId, settings, telegrams }, own) =>
    new TextTransport(() => openTextLine(to, lineId, settings, own), telegrams, textSilenceMs(settings)),
  station: (dial) => new StationTransport(dial),
  nowhere: ({ why }) => {
    const end = () => Promise.resolve(failed({ code: 'nowhere', why }));
    return { exchange: end, tell: end, close: () => undefined };
  },
};

/** Opens the way that the plan says; it connects when it is first asked. */
export function openDial(dial: Dial, own: OwnPorts): ClientTransport {
  const open = openers[dial.kind] as (dial: Dial, own: OwnPorts) => ClientTransport;
  return open(dial, own);
}

/** What leads to a text line: a serial server as address:port, a serial port of this machine, or null for the adapter to a simulated one. */
export async function openTextLine(to: string | null, lineId: string, settings: PortSettings, own: OwnPorts): Promise<Channel> {
  if (to === null) return openSocket('127.0.0.1', await own.adapter(lineId, settingsOf(settings)));
  const server = serialServerAt(to);
  return server ? openSocket(server.host, server.port) : own.serial(to, settings);
}
