import type { Device } from '../model/index.js';
import { wordsFor } from '../route/index.js';
import { addressesText } from './addresses.js';
import type { CarrierModel, ProgramRequest } from './carrier.js';
import { channelLines } from './channel-text.js';
import type { Dialect } from './dialect.js';
import { commented, plainName } from './marks.js';
import { wantedAt } from './places-text.js';
import { isWholeText, type RouteText, typedLiteral } from './route-text.js';
import { isThere } from './station-text.js';
import { iecOf } from './words-text.js';

/** What the program of a controller is called, before it has its last form. */
export function programName({ name }: Device): string {
  return `§${plainName(name)}Exchange`;
}

/** The program itself: its global variables, the requests with what they ask, each route, and what runs them. `linked` are declared here. */
export function programText(model: CarrierModel, routes: readonly RouteText[], dialect: Dialect, linked: CarrierModel['linked']): string[] {
  const { controller, requests, channels, stations } = model;
  const own = routes.flatMap(({ variables }) => variables);
  const read = stations.filter(({ members }) => [...members.values()].some(({ point }) => isThere(point, dialect)));
  const written = stations.filter(({ wanted }) => wanted.some(({ point }) => isThere(point, dialect)));
  const count = (rows: readonly unknown[]) => Math.max(1, rows.length);
  return [
    `(* What ${commented(controller.name)} carries: ${routes.length} routes by ${requests.length} requests. *)`,
    'VAR_GLOBAL',
    `  §requests : ARRAY[1..${count(requests)}] OF §Request; (* with their counters and times, for whoever wants to show them *)`,
    ...read.map((station) => `  §${station.name} : §${station.name}Values;`),
    ...written.map((station) => `  §${station.name}Wanted : §${station.name}Orders;`),
    ...linked
      .filter(({ point }) => isThere(point, dialect))
      .map(
        ({ name: variable, point, device }) =>
          `  ${variable} : ${iecOf(point, dialect)}; (* ${commented(`${point.name} of ${device}, to be connected with its link`)} *)`,
      ),
    'END_VAR',
    '',
    `PROGRAM ${programName(controller)}`,
    'VAR',
    '  §started : BOOL; §clock : TON; §nowMs : DINT; §beforeMs : DINT; §elapsedMs : DINT;',
    `  §x : ${dialect.real}; §y : ${dialect.real}; §n : ${dialect.whole}; §m : ${dialect.whole}; §s : STRING[250];`,
    '  §ok : BOOL; §held : BOOL; §limited : BOOL; §moved : BOOL;',
    '  §c : INT; §r : INT; §best : INT; §i : INT;',
    `  §transactions : ARRAY[1..${count(channels)}] OF §Transaction;`,
    `  §channels : ARRAY[1..${count(channels)}] OF §Channel;`,
    `  §areas : ARRAY[1..${count(channels)}] OF §Area; §masks : ARRAY[1..${count(channels)}] OF §Area; §wires : ARRAY[1..${count(channels)}] OF §Area;`,
    `  §stations : ARRAY[1..${count(stations)}] OF §Station;`,
    '  §advance : §Advance;',
    ...read.map((station) => `  §${station.name}Take : §${station.name}Decode;`),
    ...written.map((station) => `  §${station.name}Put : §${station.name}Encode;`),
    ...own.map(({ name: variable, type }) => `  ${variable} : ${type};`),
    'END_VAR',
    '  (* How long the last scan was ago. *)',
    '  §clock(IN := NOT §clock.Q, PT := T#24h);',
    '  §nowMs := TIME_TO_DINT(§clock.ET);',
    '  §elapsedMs := MAX(0, §nowMs - §beforeMs);',
    '  §beforeMs := §nowMs;',
    '',
    '  IF NOT §started THEN',
    '    §started := TRUE;',
    ...requests.flatMap((request) => requestLines(request, model)).map((line) => `    ${line}`),
    '  END_IF;',
    '',
    '  (* ── Routes ── *)',
    ...routes.flatMap(({ lines }) => [...lines.map((line) => `  ${line}`), '']),
    ...validLines(model, routes, dialect).map((line) => `  ${line}`),
    '  (* ── Requests: each channel has one open, the one that is due, of the highest priority and waiting the longest ── *)',
    `  FOR §r := 1 TO ${requests.length} DO`,
    '    §requests[§r].begun := FALSE;',
    '    §requests[§r].ended := FALSE;',
    '    §requests[§r].waitMs := §requests[§r].waitMs - §elapsedMs;',
    '  END_FOR;',
    `  FOR §i := 1 TO ${stations.length} DO §stations[§i].restMs := MAX(0, §stations[§i].restMs - §elapsedMs); END_FOR;`,
    '',
    ...(channels.length === 0 ? [] : channelLines(model, read, written)),
    'END_PROGRAM',
  ];
}

function requestLines(
  { number, planned, channel, station, isBits, one, many, read }: ProgramRequest,
  { channels, stations }: CarrierModel,
): string[] {
  const at = `§requests[${number}]`;
  const mode = planned.kind === 'read' ? 0 : planned.partial === 'mask' ? 2 : planned.partial === 'read' ? 3 : 1;
  const follows = planned.pauseMs !== null;
  const { release } = planned;
  const where = addressesText(channels[channel - 1]!.endpoint);
  return [
    `(* ${number}: ${commented(`${planned.kind === 'read' ? 'reads' : 'writes'} ${planned.count} of ${stations[station - 1]!.device.name}, ${where}, unit ${planned.unitId}.`)} *)`,
    `${at}.channel := ${channel}; ${at}.station := ${station}; ${at}.unit := ${planned.unitId}; ${at}.start := ${planned.offset}; ${at}.count := ${planned.count};${isBits ? ` ${at}.isBits := TRUE;` : ''}`,
    `${at}.mode := ${mode}; ${at}.one := ${one}; ${at}.many := ${many}; ${at}.read := ${read};`,
    `${at}.periodMs := ${follows ? planned.pauseMs : Math.round(planned.periodMs)};${follows ? ` ${at}.follows := TRUE;` : ''} ${at}.waitMs := ${Math.round(planned.phaseMs)}; ${at}.priority := ${planned.priority}; ${at}.tries := ${planned.tries};`,
    ...(planned.broadcast ? [`${at}.quietMs := ${Math.ceil(planned.broadcast.waitMs)};`] : []),
    ...(release
      ? [
          `${at}.release := ${release.when === 'before' ? 1 : 2}; ${at}.releaseCode := ${release.functionCode}; ${at}.releaseStart := ${release.offset}; ${at}.releaseCount := ${release.values.length};`,
          ...release.values.slice(0, 4).map((value, index) => `${at}.releaseWords[${index}] := ${value};`),
        ]
      : []),
  ];
}

/** The bits and words that say whether values are good: one that several routes share is on while all of them are. */
function validLines(model: CarrierModel, routes: readonly RouteText[], dialect: Dialect): string[] {
  const numbers = new Map<string, number[]>();
  routes.forEach(({ route }, index) => {
    if (route.valid) numbers.set(route.valid.point.id, [...(numbers.get(route.valid.point.id) ?? []), index + 1]);
  });
  return [...numbers].flatMap(([id, of]) => {
    const { point } = routes.find(({ route }) => route.valid?.point.id === id)!.route.valid!;
    const [on, off] = [1, 0].map((value) => {
      const words = wordsFor(value, { destination: point, transforms: [] });
      return words.ok ? typedLiteral(words.value, point, iecOf(point, dialect)) : null;
    });
    if (on == null || off == null) return [];
    const wanted = model.stations.map((station) => wantedAt(station, id)).find((row) => row !== null);
    const target = wanted?.text ?? model.variables.get(id)?.name;
    if (!target) return [];
    return [
      `(* ${commented(`${point.name} is on while what it stands for is good.`)} *)`,
      `IF ${isWholeText(of)} THEN ${target} := ${on}; ELSE ${target} := ${off}; END_IF;`,
      ...(wanted ? [`${wanted.ready} := TRUE;`] : []),
    ];
  });
}
