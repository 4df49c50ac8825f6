import type { ListedProject } from '@plain-envoy/core/feed';
import type { Column } from '../parts/table/column';

const dates = new Intl.DateTimeFormat('en-GB', { dateStyle: 'medium', timeStyle: 'short' });

/** What is said of each project. */
export const columns: readonly Column<ListedProject>[] = [
  { name: 'name', head: 'Project', by: ({ name }) => name, more: ({ note }) => note },
  { name: 'client', head: 'Client', text: ({ client }) => client, by: ({ client }) => client },
  {
    name: 'changed',
    head: 'Last change',
    text: ({ changedAtMs, revision }) => (changedAtMs ? `${dates.format(changedAtMs)} · revision ${revision}` : `revision ${revision}`),
    by: ({ changedAtMs }) => changedAtMs,
  },
  { name: 'lines', head: 'Lines', kind: 'number', text: ({ lines }) => lines, by: ({ lines }) => lines },
  { name: 'devices', head: 'Devices', kind: 'number', text: ({ devices }) => devices, by: ({ devices }) => devices },
  { name: 'findings', head: 'Findings', text: findingsText, classOf: ({ findings }) => (findings?.stop ? 'bad' : ''), by: worst },
  {
    name: 'proved',
    head: 'Proved',
    hint: 'Routes whose last proof held, of all',
    text: ({ proved, routes }) => (proved === null ? `${routes} routes` : `${proved} of ${routes}`),
    by: ({ proved, routes }) => (routes ? (proved ?? 0) / routes : -1),
  },
  { name: 'state', head: 'Bench', text: ({ runsOn }) => (runsOn ? `runs on ${runsOn === 'real' ? 'the real plant' : 'stand-ins'}` : '') },
  { name: 'actions', head: '' },
];

function findingsText({ findings, deletedAtMs }: ListedProject): string {
  if (!findings) return deletedAtMs ? '' : 'counting …';
  const { stop, warning, advice } = findings;
  const remarks = warning + advice;
  return (
    [stop && `${stop} stop${stop === 1 ? '' : 's'}`, remarks && `${remarks} remark${remarks === 1 ? '' : 's'}`]
      .filter(Boolean)
      .join(' · ') || 'none'
  );
}

/** One that stops something weighs more than any number of others. */
function worst({ findings }: ListedProject): number {
  return findings ? findings.stop * 1e6 + findings.warning * 1e3 + findings.advice : -1;
}
