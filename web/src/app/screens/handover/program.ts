import { controllersOf, profileFor } from '@plain-envoy/core/handover';
import { defineKind } from './kind';
import { ProgramView } from './program-view';

/** What a controller does to carry its routes, as a program. */
export const program = defineKind({
  key: 'program',
  label: 'Program',
  menu: 'program',
  component: ProgramView,
  copies: 'text',
  subjects: (document, plan) => {
    const carriers = new Set(plan.routes.map(({ carrierId }) => carrierId));
    return controllersOf(document).filter(({ id }) => carriers.has(id));
  },
  path: (id) => `devices/${id}/program`,
  about: (document, plan, id) => {
    const routes = plan.routes.filter(({ carrierId }) => carrierId === id).length;
    return `Structured Text · ${routes} ${routes === 1 ? 'route' : 'routes'}${profileFor(document, id).portable ? ', portable' : ''}`;
  },
  nothing: 'No controller carries anything yet. Give routes one as their carrier, on Routes; its program appears here.',
});
