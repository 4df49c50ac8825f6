import type { ByRegisters, LibraryRow } from '@plain-envoy/core/feed';
import { type Recognition, recognise } from '@plain-envoy/core/library';
import { likeOf } from '@plain-envoy/core/making';
import type { DeviceTemplate, ProjectDocument } from '@plain-envoy/core/model';
import type { Answering, LookAtRegisters } from '@plain-envoy/engine/prove';

export interface KeptDevice {
  row: LibraryRow;
  template: DeviceTemplate;
}

/**
 * Tells what answers on a line by its registers, where nothing is designed and what it says of itself names no device of the
 * library. It only reads. What is designed is left alone: its proofs ask it for all that it has.
 */
export function lookingFor(document: ProjectDocument, lineId: string, kept: () => Promise<KeptDevice[]>): LookAtRegisters {
  const ports = document.ports.filter((port) => port.lineId === lineId);
  const isDesigned = (place: Answering['place']) =>
    ports.some((port) =>
      'unitId' in place
        ? port.kind === 'serial' && port.unitId === place.unitId
        : port.kind === 'ethernet' && port.ip === place.ip && port.tcpPort === place.tcpPort,
    );
  let loaded: Promise<KeptDevice[]> | null = null;
  return async ({ place, identity, identification, gives }) => {
    if (isDesigned(place)) return null;
    const devices = await (loaded ??= kept());
    const rows = devices.map(({ row }) => row);
    if (devices.length === 0 || likeOf(rows, identity ?? '', identification)) return null;
    const maps = devices.map(({ row, template }) => ({ row, points: template.points, device: template.device }));
    const told = await recognise(maps, gives);
    return {
      like: told.kind === 'fits' ? told.fits.map(({ row: { id, name, version } }) => ({ id, name, version })) : [],
      sentence: sentenceOf(told),
    };
  };
}

function sentenceOf(told: Recognition<{ row: LibraryRow }>): ByRegisters['sentence'] {
  switch (told.kind) {
    case 'fits': {
      const names = told.fits.map(({ row }) => row.name).join(' and ');
      return `It gives the ${told.registers} registers of ${names} that were asked for, and refuses what lies beside them (${told.requests} requests).`;
    }
    case 'gives more':
      return 'It gives all that a map of the library has, and what lies beside it too, so its registers do not tell what it is.';
    case 'silent':
      return 'It stopped answering while it was asked for registers.';
    case 'none':
      return 'No map of the library fits to the registers that it gives.';
  }
}
