import type { CanLine, CanPort, ProjectDocument } from '../model/index.js';
import { type Bus, busesOf, type EthernetBus, type SerialBus } from './bus.js';
import { checkCable } from './cable.js';
import { checkEthernet, type Clients } from './ethernet.js';
import type { Finding } from './finding.js';
import { checkSerial } from './serial.js';

/** Everything that is or will be wrong with the lines of a project. `clients` says for a device how many carriers of the plan connect to it. */
export function checkLines(document: Pick<ProjectDocument, 'lines' | 'devices' | 'ports'>, clients: Clients): Finding[] {
  return busesOf(document).flatMap((bus) => {
    switch (bus.line.kind) {
      case 'serial':
        return [...checkSerial(bus as SerialBus), ...checkCable(bus as SerialBus)];
      case 'ethernet':
        return checkEthernet(bus as EthernetBus, clients);
      case 'can':
        return checkCan(bus as Bus<CanLine, CanPort>);
      case 'telecontrol':
        return [];
    }
  });
}

function checkCan({ line, members }: Bus<CanLine, CanPort>): Finding[] {
  const found: Finding[] = members
    .filter(({ port }) => port.bitrate !== line.bitrate)
    .map(({ name, port }) => ({
      severity: 'stop',
      check: 'settings-differ',
      message: `${name} is set to ${port.bitrate} bit/s, ${line.name} runs at ${line.bitrate}: it would disturb everybody’s frames.`,
      mend: `Set ${name} to ${line.bitrate} bit/s.`,
      at: { entity: 'port', id: port.id, field: 'bitrate' },
    }));
  const terminated = members.filter(({ port }) => port.terminated).length;
  if (members.length > 1 && terminated !== 2) {
    found.push({
      severity: 'warning',
      check: terminated < 2 ? (terminated ? 'termination-one' : 'termination-none') : 'termination-many',
      message: `${line.name} is terminated at ${terminated} ${terminated === 1 ? 'place' : 'places'}; a CAN bus needs 120 Ω at both ends and nowhere else.`,
      mend: 'Terminate its two ends.',
      at: { entity: 'line', id: line.id },
    });
  }
  return found;
}
