import { controllersOf, profileFor } from '@plain-envoy/core/handover';
import { defineKind } from './kind';
import { VariablesView } from './variables-view';

/** The points of a controller as variables of its program. */
export const variables = defineKind({
  key: 'variables',
  label: 'Variables',
  menu: 'variables',
  component: VariablesView,
  copies: 'table',
  subjects: (document) => {
    const owners = new Set(document.points.map(({ deviceId }) => deviceId));
    return controllersOf(document).filter(({ id }) => owners.has(id));
  },
  path: (id) => `devices/${id}/variables`,
  about: (document, _, id) =>
    `variable list · ${document.points.filter(({ deviceId }) => deviceId === id).length} points, by “${profileFor(document, id).name}”`,
  nothing: 'No controller of the project has points yet. Add them on Registers.',
});
