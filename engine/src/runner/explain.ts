import { describeException, GATEWAY_PATH_UNAVAILABLE, GATEWAY_TARGET_FAILED } from '@plain-envoy/core/frame';
import type { Endpoint, PlannedRequest } from '@plain-envoy/core/plan';
import type { RequestResult } from '../client/index.js';

/** Why a request brought nothing, said of the device that the person knows by name. */
export function explainFailure(outcome: RequestResult, request: PlannedRequest, endpoint: Endpoint): string {
  const { deviceName, unitId, timeoutMs, tries } = request;
  switch (outcome.kind) {
    case 'exception':
      if (outcome.code === GATEWAY_TARGET_FAILED)
        return `${endpoint.name} asked ${deviceName} (unit ${unitId}) and got no answer (exception 11).`;
      if (outcome.code === GATEWAY_PATH_UNAVAILABLE) return `${endpoint.name} has no way to unit ${unitId} (exception 10).`;
      return `${deviceName} answers ${describeException(outcome.code)}.`;
    case 'no response':
      return `${deviceName} did not answer within ${timeoutMs} ms${tries > 1 ? `, asked ${tries} times` : ''}.`;
    case 'corrupt':
      return `${deviceName}: ${outcome.why}`;
    case 'not connected':
      return `No connection to ${endpoint.name}: ${outcome.why}`;
    default:
      return '';
  }
}
