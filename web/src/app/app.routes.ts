import type { Routes } from '@angular/router';

/** The screens in the order of the work; each is loaded when it is first opened. */
export const screens: Routes = [
  { path: '', pathMatch: 'full', redirectTo: 'site' },
  { path: 'site', title: 'Site · Plain Envoy', loadComponent: () => import('./screens/site/site').then((file) => file.SiteScreen) },
  { path: 'lines', title: 'Lines · Plain Envoy', loadComponent: () => import('./screens/lines/lines').then((file) => file.LinesScreen) },
  {
    path: 'registers',
    title: 'Registers · Plain Envoy',
    loadComponent: () => import('./screens/registers/registers').then((file) => file.RegistersScreen),
  },
  {
    path: 'routes',
    title: 'Routes · Plain Envoy',
    loadComponent: () => import('./screens/routes/routes').then((file) => file.RoutesScreen),
  },
  {
    path: 'rounds',
    title: 'Rounds · Plain Envoy',
    loadComponent: () => import('./screens/rounds/rounds').then((file) => file.RoundsScreen),
  },
  { path: 'bench', title: 'Bench · Plain Envoy', loadComponent: () => import('./screens/bench/bench').then((file) => file.BenchScreen) },
  { path: 'trace', title: 'Trace · Plain Envoy', loadComponent: () => import('./screens/trace/trace').then((file) => file.TraceScreen) },
  {
    path: 'handover',
    title: 'Handover · Plain Envoy',
    loadComponent: () => import('./screens/handover/handover').then((file) => file.HandoverScreen),
  },
];
