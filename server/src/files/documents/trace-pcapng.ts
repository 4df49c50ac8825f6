import { teller, writePcapng } from '@plain-envoy/core/trace';
import { peersOf } from '../peers.js';
import { defineFormat } from './definition.js';

export const tracePcapng = defineFormat({
  of: 'trace',
  id: 'pcapng',
  title: 'pcapng, for packet analysers',
  mediaType: 'application/octet-stream',
  extension: 'pcapng',
  write: ({ document, plan, records }) => Buffer.from(writePcapng(records, peersOf(document), teller(document, plan.requests))),
});
