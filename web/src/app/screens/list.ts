import type { Type } from '@angular/core';

/** A screen: its address, the name in the rail and the window’s title, its icon as one path on a field of 24 × 24, and where it is loaded from. */
export interface Screen {
  path: string;
  name: string;
  icon: string;
  load: () => Promise<Type<unknown>>;
}

/** The screens in the order of the work; each is loaded when it is first opened. A new screen is a folder of its own and its entry here. */
export const screens: readonly Screen[] = [
  {
    path: 'site',
    name: 'Site',
    icon: 'M3 6h18M3 18h18M7 6v5M16 6v12M11 18v-5',
    load: () => import('./site/site').then((file) => file.SiteScreen),
  },
  {
    path: 'lines',
    name: 'Lines',
    icon: 'M2 14c3-8 5-8 7 0s4 8 7 0 3-5 6-5',
    load: () => import('./lines/lines').then((file) => file.LinesScreen),
  },
  {
    path: 'registers',
    name: 'Registers',
    icon: 'M7 4v16M3 8h18M3 13h18M3 18h18M3 4h18',
    load: () => import('./registers/registers').then((file) => file.RegistersScreen),
  },
  {
    path: 'routes',
    name: 'Routes',
    icon: 'M3 6h5c6 0 3 12 9 12h4M18 15l3 3-3 3M3 18h3',
    load: () => import('./routes/routes').then((file) => file.RoutesScreen),
  },
  {
    path: 'rounds',
    name: 'Rounds',
    icon: 'M12 4a8 8 0 1 0 8 8M12 4V1M12 4l4 0M12 8v4l3 2',
    load: () => import('./rounds/rounds').then((file) => file.RoundsScreen),
  },
  {
    path: 'bench',
    name: 'Bench',
    icon: 'M3 20V9l9-5 9 5v11M8 20v-8h8v8',
    load: () => import('./bench/bench').then((file) => file.BenchScreen),
  },
  {
    path: 'trace',
    name: 'Trace',
    icon: 'M3 12h3l2-6 4 12 3-9 2 3h4',
    load: () => import('./trace/trace').then((file) => file.TraceScreen),
  },
  {
    path: 'handover',
    name: 'Handover',
    icon: 'M6 3h8l4 4v14H6zM14 3v4h4M9 12h6M9 16h6',
    load: () => import('./handover/handover').then((file) => file.HandoverScreen),
  },
];
