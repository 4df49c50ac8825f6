import type { Device, Errand, ErrandStep, Point, WatchList } from '../model/index.js';
import { nextId, projectId } from './ids.js';
import { points, routes } from './make.js';
import { plant } from './site.js';

/** What is done and looked at on the bench of the demo. */
function at(device: Device, name: string): Point {
  return points.find((point) => point.deviceId === device.id && point.name === name)!;
}

const write = ({ id }: Point, value: string): ErrandStep => ({ kind: 'write', pointId: id, value, broadcast: false });
const wait = ({ id }: Point, is: 'has' | 'lacks', value: string, withinMs: number): ErrandStep => ({
  ...{ kind: 'wait', pointId: id, is, value, withinMs },
});

const display = { text: at(plant.display, 'Text'), status: at(plant.display, 'Status word'), reply: at(plant.display, 'Reply') };
const fan = {
  command: at(plant.fanNorth, 'Command word'),
  status: at(plant.fanNorth, 'Status word'),
  speed: at(plant.fanNorth, 'Actual speed'),
};

export const errands: Errand[] = [
  {
    id: nextId(),
    projectId,
    name: 'Batch on the yard display',
    note: 'Goes out when a batch is ready. The display repeats what it shows in its reply.',
    trigger: { on: 'edge', pointId: at(plant.kilnController, 'Batch is ready').id },
    overlaps: false,
    steps: [
      { kind: 'read', pointId: at(plant.steepController, 'Batch number').id },
      write(display.text, 'Batch {1} is ready'),
      { kind: 'pause', ms: 300 },
      wait(display.status, 'has', 'ready', 5000),
      { kind: 'compare', pointId: display.reply.id, is: 'equals', value: '', sameAsId: display.text.id, else: null },
    ],
  },
  {
    id: nextId(),
    projectId,
    name: 'Start fan north by hand',
    note: 'The sequence of the drive, for when the program of the controller does not run: ready, on, run, up to speed.',
    trigger: { on: 'hand' },
    overlaps: false,
    steps: [
      wait(fan.status, 'has', 'ready', 3000),
      write(fan.command, 'on'),
      wait(fan.status, 'has', 'on', 3000),
      write(fan.command, 'on, run'),
      wait(fan.status, 'has', 'running', 5000),
      wait(fan.status, 'lacks', 'fault', 1000),
      { kind: 'read', pointId: fan.speed.id },
    ],
  },
];

const watched = [
  'Air-on temperature',
  'Air-on humidity',
  'Damper set point',
  'Damper position',
  'Fan north status',
  'Fan north speed',
  'Kiln heartbeat',
];

export const watchLists: WatchList[] = [
  {
    id: nextId(),
    projectId,
    name: 'Kiln at a glance',
    radix: 'decimal',
    items: watched.map((name) => ({ of: 'route', id: routes.find((route) => route.name === name)!.id, radix: null })),
  },
];
