import type { Type } from '@angular/core';
import type { Action, KeyNote } from '../parts/actions';
import type { IconName } from '../parts/icon';

/**
 * A screen: its address, the name in the rail and the window’s title, its icon, what can be done on it (it offers each of these while it
 * is open), what keys do in its own drawings and tables, and where it is loaded from.
 */
export interface Screen {
  path: string;
  name: string;
  icon: IconName;
  actions: readonly Action[];
  keys: readonly KeyNote[];
  /** Its address follows the cursor, and what is typed beside it stays. */
  followsCursor?: true;
  load: () => Promise<Type<unknown>>;
}

/** The screens in the order of the work; each is loaded when it is first opened. A new screen is a folder of its own and its entry here. */
export const screens: readonly Screen[] = [
  {
    path: 'site',
    name: 'Site',
    icon: 'site',
    actions: [
      { id: 'site.device', name: 'Add device', keys: 'Alt+N' },
      { id: 'site.line', name: 'Add line' },
      { id: 'site.fit', name: 'Zoom to fit, or full size', keys: 'Alt+0' },
      { id: 'site.larger', name: 'Zoom in', keys: 'Alt++' },
      { id: 'site.smaller', name: 'Zoom out', keys: 'Alt+-' },
    ],
    keys: [{ keys: 'Ctrl+wheel', does: 'On the drawing: zoom; dragging the empty paper moves it' }],
    load: () => import('./site/site').then((file) => file.SiteScreen),
  },
  {
    path: 'lines',
    name: 'Lines',
    icon: 'lines',
    actions: [
      { id: 'lines.add', name: 'Add line', keys: 'Alt+N' },
      { id: 'lines.line', name: 'Line and cable', keys: 'Alt+L' },
    ],
    keys: [{ keys: 'Alt+↑ ↓', does: 'In the members of a line: put the device to the place before or after' }],
    load: () => import('./lines/lines').then((file) => file.LinesScreen),
  },
  {
    path: 'registers',
    name: 'Registers',
    followsCursor: true,
    icon: 'registers',
    actions: [
      { id: 'registers.add', name: 'Add point', keys: 'Alt+N' },
      { id: 'registers.import', name: 'Import a map', keys: 'Alt+I' },
      { id: 'registers.align', name: 'Align manual and device', keys: 'Alt+A' },
      { id: 'registers.read', name: 'Read registers', keys: 'Alt+R' },
      { id: 'registers.order', name: 'Find the order of a value', keys: 'Alt+O' },
      { id: 'registers.papers', name: 'Papers of the device', keys: 'Alt+P' },
      { id: 'registers.wanted', name: 'Settings as designed and as they are', keys: 'Alt+E' },
      { id: 'registers.modules', name: 'A coupler made of modules', keys: 'Alt+M' },
      { id: 'registers.device', name: 'The device: its settings, ports and files', keys: 'Alt+G' },
      { id: 'registers.image', name: 'The image of a converter' },
      { id: 'registers.telegrams', name: 'Telegrams of a device on a text line', keys: 'Alt+T' },
      { id: 'registers.frames', name: 'Frames of a device on CAN' },
      { id: 'registers.blocks', name: 'Blocks of a station on a cyclic link' },
      { id: 'registers.events', name: 'Points of a telecontrol station' },
      { id: 'registers.program', name: 'The program of its stand-in', keys: 'Alt+S' },
    ],
    keys: [
      { keys: 'Enter, F2', does: 'In the grid: change the cell; Tab goes on to the next' },
      { keys: 'Space', does: 'In the grid: open the point' },
      { keys: 'Insert, Delete', does: 'In the grid: add a point, delete those chosen' },
      { keys: 'Ctrl+D', does: 'In the grid: what stands in the first goes into all chosen below' },
      { keys: 'Ctrl+Enter', does: 'In a cell: what is typed goes into all chosen' },
      { keys: 'Ctrl+C, Ctrl+V', does: 'In the grid: copy, and paste a cell, a column or a whole table' },
      { keys: 'Alt+2, Alt+3', does: 'Where an address typed can mean several: take the second or third meaning' },
      { keys: '← → PgUp PgDn', does: 'In the strip: by one register, by sixteen; with Shift marks a span' },
    ],
    load: () => import('./registers/registers').then((file) => file.RegistersScreen),
  },
  {
    path: 'routes',
    name: 'Routes',
    icon: 'routes',
    actions: [
      { id: 'routes.order', name: 'Carry in order', keys: 'Alt+C' },
      { id: 'routes.beats', name: 'Heartbeats', keys: 'Alt+B' },
      { id: 'routes.swap', name: 'Swap sides', keys: 'Alt+S' },
      { id: 'routes.sheet', name: 'Request sheet of the carrier' },
    ],
    keys: [
      { keys: 'Delete', does: 'On a ribbon: delete its route' },
      { keys: 'PgUp PgDn', does: 'In a bank: by twelve lanes; past the last one, what has no route here unfolds' },
    ],
    load: () => import('./routes/routes').then((file) => file.RoutesScreen),
  },
  {
    path: 'rounds',
    name: 'Rounds',
    icon: 'rounds',
    actions: [{ id: 'rounds.measured', name: 'What is measured beside the forecast', keys: 'Alt+M' }],
    keys: [],
    load: () => import('./rounds/rounds').then((file) => file.RoundsScreen),
  },
  {
    path: 'bench',
    name: 'Bench',
    icon: 'bench',
    actions: [
      { id: 'bench.arm', name: 'Real plant …' },
      { id: 'bench.routes', name: 'Routes on the bench' },
      { id: 'bench.watch', name: 'Watch lists' },
      { id: 'bench.errands', name: 'Errands' },
      { id: 'bench.proofs', name: 'Proofs' },
      { id: 'bench.terminal', name: 'Terminal of a text line' },
      { id: 'bench.can', name: 'What goes over CAN' },
      { id: 'bench.stations', name: 'Control station of a telecontrol link' },
      { id: 'bench.prove', name: 'Prove all routes', keys: 'Alt+P' },
      { id: 'bench.wrong', name: 'What is wrong', keys: 'Alt+X' },
      { id: 'bench.counters', name: 'Counters' },
      { id: 'bench.ask', name: 'Ask devices' },
      { id: 'bench.write', name: 'Write and force' },
      { id: 'bench.plot', name: 'Over time' },
    ],
    keys: [
      { keys: 'Space', does: 'In a watch list: draw the row over time; among proofs: choose the route' },
      { keys: 'Delete', does: 'In a watch list: take the row out' },
    ],
    load: () => import('./bench/bench').then((file) => file.BenchScreen),
  },
  {
    path: 'trace',
    name: 'Trace',
    icon: 'trace',
    actions: [
      { id: 'trace.hold', name: 'Hold or follow', keys: 'Alt+H' },
      { id: 'trace.open', name: 'Open a recording' },
      { id: 'trace.paste', name: 'Paste bytes' },
      { id: 'trace.capture', name: 'Capture …' },
    ],
    keys: [{ keys: 'Space', does: 'In the list: hold it, or follow again' }],
    load: () => import('./trace/trace').then((file) => file.TraceScreen),
  },
  {
    path: 'handover',
    name: 'Handover',
    icon: 'handover',
    actions: [
      { id: 'handover.copy', name: 'Copy the request sheet as a table' },
      { id: 'handover.print', name: 'Print the request sheet' },
    ],
    keys: [],
    load: () => import('./handover/handover').then((file) => file.HandoverScreen),
  },
];
