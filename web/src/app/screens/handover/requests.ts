import { requestSheets } from '@plain-envoy/core/plan';
import { defineKind } from './kind';
import { RequestsView } from './requests-view';

/** The requests of a carrier, as they are typed into its package. */
export const requests = defineKind({
  key: 'requests',
  label: 'Requests',
  menu: 'sheet',
  component: RequestsView,
  copies: 'table',
  subjects: (document, plan) =>
    requestSheets(document, plan).map(({ carrierId, carrier }) => ({ id: carrierId ?? 'plain-envoy', name: carrier })),
  path: (id) => `sheets/${id}`,
  about: (document, plan, id) => {
    const rows = requestSheets(document, plan).find(({ carrierId }) => (carrierId ?? 'plain-envoy') === id)?.rows ?? [];
    const onLines = rows.filter(({ expectedMs }) => expectedMs !== null);
    const ms = onLines.reduce((sum, { expectedMs }) => sum + expectedMs!, 0);
    const time = onLines.length ? ` · ${Math.round(ms)} ms on serial lines, each once` : '';
    const count = rows.at(-1)?.number ?? 0;
    return `request sheet · ${count} request${count === 1 ? '' : 's'}${time}`;
  },
  nothing: 'Nothing is carried yet. Make the first route in Routes; its requests appear here.',
});
