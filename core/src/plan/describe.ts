import { tableNames } from '../address/index.js';
import type { Endpoint, PlannedRequest } from './plan.js';

/** `reads 4 input registers from offset 10 of Air-on transmitter, unit 21 through Kiln gateway, function 4, every 500 ms` */
export function describeRequest(request: PlannedRequest, endpoints: readonly Endpoint[]): string {
  const heard = endpoints.find(({ id, via }) => id === request.endpointId && via === 'text');
  if (heard) return textSentence(request, heard, 'texts');
  const told = endpoints.find(({ id, via }) => id === request.endpointId && via === 'station');
  if (told) return textSentence(request, told, 'telecontrol points');
  const names = tableNames[request.table];
  const verb = request.kind === 'write' ? 'writes' : 'reads';
  const thing = request.count === 1 ? `1 ${names.one} at` : `${request.count} ${names.many} from`;
  const along = request.also ? ` and reads ${request.also.count} from offset ${request.also.offset}` : '';
  const gateway = endpoints.find((endpoint) => endpoint.id === request.endpointId && endpoint.id !== request.deviceId);
  const through = gateway ? ` ${gateway.via === 'line' ? 'on' : 'through'} ${gateway.name}` : '';
  return `${verb} ${thing} offset ${request.offset} of ${request.broadcast ? `every unit beside ${request.deviceName}` : `${request.deviceName}, unit ${request.unitId}`}${through}${along}, with function ${request.functionCode}, every ${request.periodMs} ms`;
}

/** `takes 2 values from the texts of Weigh indicator on Weighbridge cable, every 500 ms` */
function textSentence({ kind, points, deviceName, periodMs }: PlannedRequest, { name }: Endpoint, messages: string): string {
  const what = points.length === 1 ? 'a value' : `${points.length} values`;
  const does =
    kind === 'write' ? `puts ${what} into the ${messages} to ${deviceName}` : `takes ${what} from the ${messages} of ${deviceName}`;
  return `${does} on ${name}, every ${periodMs} ms`;
}
