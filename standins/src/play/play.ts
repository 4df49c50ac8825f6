import type { Failure } from '@plain-envoy/core/failure';
import { settingsOf } from '@plain-envoy/core/line';
import type { Line, SerialLine } from '@plain-envoy/core/media';
import type { Device, ProjectDocument } from '@plain-envoy/core/model';
import { bad, good, type Outcome } from '@plain-envoy/core/outcome';
import { standInPort } from '@plain-envoy/core/plan';
import { wiringOf } from '@plain-envoy/core/playing';
import type { KeptAttachment } from '@plain-envoy/core/project-file';
import { recordedIn } from '@plain-envoy/core/replay';
import { openSerialPort } from '@plain-envoy/engine/links';
import { Plant } from '../plant/index.js';

/** How the stand-ins of a project are played for others. */
export interface Wish {
  /** Where they listen in the place of TCP port 502. */
  port: number;
  /** The address at which all listen, each at a port of its own; null for an address of its own each on loopback. */
  host: string | null;
  /** Serial ports of this machine that become lines of the project: who asks there asks the stand-ins of that line. */
  serial: readonly { line: string; path: string }[];
}

/** A device that answers, and where: an address and port, or a unit ID behind one or on a serial port. */
export interface Answering {
  device: string;
  at: string;
}

/** The lines that are to be lent to serial ports, with who will answer there; a sentence where one is none. */
export function lentLines(
  { lines, devices, ports }: ProjectDocument,
  serial: Wish['serial'],
): Outcome<{ line: SerialLine; path: string; answering: Answering[] }[]> {
  const lent: { line: SerialLine; path: string; answering: Answering[] }[] = [];
  for (const { line: name, path } of serial) {
    const line = lines.find((one) => one.name.toLowerCase() === name.toLowerCase());
    if (line?.kind !== 'serial') {
      const some = lines.filter(({ kind }) => kind === 'serial').map((one) => one.name);
      return bad(`“${name}” is no serial line of this project.${some.length ? ` Its serial lines: ${some.join(', ')}.` : ' It has none.'}`);
    }
    lent.push({ line, path, answering: onLine(line, devices, ports, path) });
  }
  return good(lent);
}

function onLine(line: Line, devices: readonly Device[], ports: ProjectDocument['ports'], path: string): Answering[] {
  return ports.flatMap((port) => {
    const device = devices.find(({ id }) => id === port.deviceId);
    if (port.kind !== 'serial' || port.lineId !== line.id || !device?.standIn) return [];
    if (port.framing === 'text') return device.program.trim() === '' ? [] : [{ device: device.name, at: `${path}, text` }];
    return port.unitId === null ? [] : [{ device: device.name, at: `${path}, unit ${port.unitId}` }];
  });
}

/**
 * Plays the stand-ins of a project for whoever asks them, until it is stopped; recordings are among what is attached to its devices.
 * Rejects with the system’s error where an address or a serial port is taken; then nothing is left listening.
 */
export async function play(
  document: ProjectDocument,
  wish: Wish,
  attachments: readonly KeptAttachment[] = [],
  onEnd: (path: string, failure: Failure) => void = () => undefined,
): Promise<{ answering: Answering[]; silent: { device: string; why: string }[]; stop(): Promise<void> }> {
  const moved = wish.host === null ? document : atOneAddress(document, wish.host);
  const lent = lentLines(moved, wish.serial);
  if (!lent.ok) throw new Error(lent.problem.message);
  const plant = new Plant(wiringOf(moved), wish.port);
  await plant.start();
  const silent = giveRecordings(plant, attachments);
  const ends: (() => void)[] = [];
  try {
    for (const { line, path } of lent.value) {
      const channel = await openSerialPort(path, settingsOf(line));
      const end = plant.lend(line.id, {
        ...channel,
        listen: (onBytes, whenOver) => channel.listen(onBytes, (failure) => (onEnd(path, failure), whenOver(failure))),
      });
      ends.push(() => (end(), channel.close()));
    }
  } catch (error) {
    await plant.stop();
    throw error;
  }
  return {
    silent,
    answering: [...listening(moved, wish.port), ...lent.value.flatMap(({ answering }) => answering)],
    async stop() {
      for (const end of ends) end();
      await plant.stop();
    },
  };
}

/** Gives those that play a recording what is in it; of whom that cannot be played, the reason. */
function giveRecordings(plant: Plant, attachments: readonly KeptAttachment[]): { device: string; why: string }[] {
  return plant.lacking().flatMap(({ deviceId, recording }) => {
    const kept = attachments.filter((one) => one.deviceId === deviceId && one.name === recording.file);
    const newest = [...kept].sort((a, b) => a.at.localeCompare(b.at)).at(-1);
    const reel = recordedIn(newest ? Buffer.from(newest.base64, 'base64') : null, recording);
    const { device, standIn } = plant.member(deviceId)!;
    standIn?.takeRecording({ of: recording, reel: reel.ok ? reel.value : null, problem: reel.ok ? null : reel.problem.message });
    return reel.ok ? [] : [{ device: device.name, why: reel.problem.message }];
  });
}

/** All ports at one address, one after the other from that of 502 on. */
function atOneAddress(document: ProjectDocument, host: string): ProjectDocument {
  let next = 502;
  const ports = document.ports.map((port) =>
    port.kind === 'ethernet' && port.standInAddress && port.role !== 'asks' ? { ...port, standInAddress: host, tcpPort: next++ } : port,
  );
  return { ...document, ports };
}

function listening({ devices, ports, lines }: ProjectDocument, standInsPort: number): Answering[] {
  return ports.flatMap((port): Answering[] => {
    const device = devices.find(({ id }) => id === port.deviceId);
    if (!device?.standIn || port.kind !== 'ethernet' || !port.standInAddress || port.role === 'asks') return [];
    const at = `${port.standInAddress}:${standInPort(port.tcpPort, standInsPort)}`;
    const behind = ports.flatMap((other) => {
      const line =
        other.kind === 'serial' && other.deviceId === device.id && other.unitId === null
          ? lines.find(({ id }) => id === other.lineId)
          : undefined;
      return line ? onLine(line, devices, ports, at) : [];
    });
    return [{ device: device.name, at: device.kind === 'gateway' || behind.length > 0 ? at : `${at}, any unit` }, ...behind];
  });
}
