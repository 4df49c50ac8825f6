import { defineCheck, fixOf, onPort } from '../../findings/index.js';

/** A gateway that passes only some unit IDs on answers for the others itself, that it has no way to them (exception 10). */
export const unitNotForwarded = defineCheck({
  id: 'unit-not-forwarded',
  severity: 'stop',
  scope: 'serial',
  meaning: 'A gateway passes only some unit IDs on, and that of a device behind it is none of them.',
  find: ({ line, members }) => {
    const gateway = members.find(({ port }) => port.unitId === null && port.forwardedUnits.length > 0);
    if (!gateway || line.framing === 'text') return [];
    const spans = gateway.port.forwardedUnits;
    const known = spans.map(({ first, last }) => (first === last ? String(first) : `${first} to ${last}`)).join(', ');
    return members.flatMap(({ name, port: { unitId } }) => {
      if (unitId === null || spans.some(({ first, last }) => unitId >= first && unitId <= last)) return [];
      return {
        message: `${gateway.name} passes units ${known} on to ${line.name}; ${name} has unit ${unitId}, so it is never asked.`,
        mend: `Let ${gateway.name} pass unit ${unitId} on as well, or give ${name} one of those.`,
        fix: fixOf(`Pass unit ${unitId} on`, 'port', gateway.port, { forwardedUnits: [...spans, { first: unitId, last: unitId }] }),
        at: onPort(gateway, 'forwardedUnits'),
      };
    });
  },
});
