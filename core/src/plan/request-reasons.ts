import { formatAddress, tableNames } from '../address/index.js';
import type { Device, ProjectDocument } from '../model/index.js';
import type { LocalBlock } from './local-blocks.js';
import type { PlannedRequest } from './plan.js';

/** What a row of a sheet says beside the request: who types it, as which start, where it lands, and of which route it tells whether its value is good. */
interface Row {
  carrier: Device | null;
  start: number;
  local: LocalBlock | null;
  told: string | undefined;
}

/** How each number of a request came about, a sentence each. */
export function whyOf(request: PlannedRequest, { carrier, start, local, told }: Row, document: ProjectDocument): string[] {
  const { offset, count, table, points, partial, release, broadcast } = request;
  const last = offset + count - 1;
  const things = count === 1 ? tableNames[table].one : tableNames[table].many;
  const typed =
    carrier && start !== offset
      ? `${offset} zero-based; this package takes one-based numbers, so type ${start}.`
      : `${offset} zero-based, typed as it is.`;
  const named = points.reduce((sum, { width }) => sum + width, 0);
  const sentences = [typed, `${last} − ${offset} + 1 = ${count} ${things}.`];
  if (named < count) sentences.push(`${count - named} of them nobody asked for; one request across them costs less than two.`);
  if (request.also ?? request.withId)
    sentences.push(
      'One transaction writes and then reads, by function 23: what is written is in the carrier’s own memory, so the read waits for nobody.',
    );
  if (broadcast)
    sentences.push(
      `Unit 0 is every unit of the line: all of them take it, ${request.deviceName} too, and nobody answers, so the next question goes out after the turnaround.`,
    );
  if (partial === 'mask') sentences.push('Only some bits of the register are ours; function 22 leaves the others alone.');
  if (partial === 'read')
    sentences.push('Only some bits of the register are ours, so it is read just before and its other bits are written back.');
  if (release) sentences.push(`Offset ${release.offset} is set to ${release.values.join(' ')} just ${release.when}.`);
  const owner = document.devices.find(({ id }) => id === request.deviceId);
  if (owner && owner.notation !== 'pdu')
    sentences.push(`In the papers of ${owner.name} it begins at ${formatAddress({ table, offset }, owner.notation, owner.areas)}.`);
  if (local && !local.isDirect)
    sentences.push(`The block ${local.first} to ${local.last} is free; the carrier’s program works from there.`);
  if (told !== undefined) sentences.push(`It is on while the value of ${told} can be trusted, and off once it is lost.`);
  return sentences;
}
