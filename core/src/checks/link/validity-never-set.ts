import { defineCheck } from '../../findings/index.js';

export const validityNeverSet = defineCheck({
  id: 'validity-never-set',
  severity: 'stop',
  scope: 'link',
  meaning: 'Nothing sets the byte by which a station knows that its outputs may be used.',
  find: ({ link: { line, points, stationName }, document }) => {
    const { outputValidByte: byte, outputValidValue: value } = line;
    if (byte === null || byte >= line.outputBytes || value === 0) return [];
    const there = points.filter(
      ({ place }) =>
        place.kind === 'cyclic' && place.block === 'output' && place.byte <= byte && 8 * place.byte + place.bit + place.bits > 8 * byte,
    );
    const written = new Set(document.routes.map(({ destinationId }) => destinationId));
    if (there.some(({ id }) => written.has(id))) return [];
    const at = there[0]
      ? { entity: 'point' as const, id: there[0].id }
      : { entity: 'line' as const, id: line.id, field: 'outputValidByte' };
    return [
      {
        message: `${stationName} uses its outputs only while byte ${byte} of them is ${value}, and ${there[0] ? `no route writes ${there[0].name}` : 'no point lies there'}.`,
        mend: there[0]
          ? 'Carry the value that means valid to it, once all others are there.'
          : 'Add a point there, and carry the value that means valid to it, once all others are there.',
        at,
      },
    ];
  },
});
