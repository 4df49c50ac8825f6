import { sentenceOf, groupOf } from '@plain-envoy/core/failure';
import { describeException, GATEWAY_PATH_UNAVAILABLE, GATEWAY_TARGET_FAILED } from '@plain-envoy/core/frame';
import type { Endpoint, PlannedRequest } from '@plain-envoy/core/plan';
import type { InquiryResult, RequestResult } from '../client/index.js';

/** Why a request brought nothing, said of the device that the person knows by name; empty where it brought something. */
export function explainFailure(outcome: RequestResult, request: PlannedRequest, endpoint: Endpoint): string {
  if (outcome.kind !== 'failed') return '';
  const { deviceName, unitId, timeoutMs, tries } = request;
  const { failure } = outcome;
  if (failure.code === 'exception') {
    if (failure.exception === GATEWAY_TARGET_FAILED)
      return `${endpoint.name} asked ${deviceName} (unit ${unitId}) and got no answer (exception 11).`;
    if (failure.exception === GATEWAY_PATH_UNAVAILABLE) return `${endpoint.name} has no way to unit ${unitId} (exception 10).`;
    return `${deviceName} answers ${describeException(failure.exception)}.`;
  }
  if (failure.code === 'no-answer')
    return `${deviceName} did not answer within ${timeoutMs} ms${tries > 1 ? `, asked ${tries} times` : ''}.`;
  return groupOf(failure) === 'not connected'
    ? `No connection to ${endpoint.name}: ${sentenceOf(failure)}`
    : `${deviceName}: ${sentenceOf(failure)}`;
}

/** Whether nothing came from the device, also where a gateway says so. */
export function isSilence(outcome: RequestResult | InquiryResult): boolean {
  if (outcome.kind !== 'failed') return false;
  const { failure } = outcome;
  return failure.code === 'exception' ? failure.exception === GATEWAY_TARGET_FAILED : true;
}
