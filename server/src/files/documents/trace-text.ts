import { teller } from '@plain-envoy/core/trace';
import { defineFormat } from './definition.js';
import { timeOf } from './trace-time.js';

export const traceText = defineFormat({
  of: 'trace',
  id: 'txt',
  title: 'text, a sentence a line',
  mediaType: 'text/plain; charset=utf-8',
  extension: 'txt',
  write: ({ document, plan, records }) => {
    const tell = teller(document, plan.requests);
    return records.map((record) => `${timeOf(record)}  ${tell(record).sentence}\n`).join('');
  },
});
