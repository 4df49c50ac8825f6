import type { Routes } from '@angular/router';
import { screens } from './screens/list';

export const routes: Routes = [
  { path: '', pathMatch: 'full', redirectTo: 'site' },
  ...screens.map(({ path, name, load }) => ({ path, title: `${name} · Plain Envoy`, loadComponent: load })),
  {
    path: '**',
    title: 'No such screen · Plain Envoy',
    loadComponent: () => import('./screens/no-screen').then((file) => file.NoScreen),
  },
];
