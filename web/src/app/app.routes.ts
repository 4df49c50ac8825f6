import type { Route, Routes } from '@angular/router';
import { mayLeaveScreen } from './parts/unsaved';
import { screens } from './screens/list';

export const routes: Routes = [
  { path: '', pathMatch: 'full', redirectTo: 'site' },
  ...screens.map(({ path, name, load, followsCursor }): Route => ({
    ...{ path, title: `${name} · Plain Envoy`, loadComponent: load },
    canDeactivate: [mayLeaveScreen],
    runGuardsAndResolvers: followsCursor ? 'paramsChange' : 'paramsOrQueryParamsChange',
  })),
  {
    path: '**',
    title: 'No such screen · Plain Envoy',
    loadComponent: () => import('./screens/no-screen').then((file) => file.NoScreen),
  },
];
