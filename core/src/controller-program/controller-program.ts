import { addressesText } from './addresses.js';
import { iecText } from '../format/index.js';
import { declared, variableList } from '../handover/index.js';
import { type Device, type ProgramPart, type ProjectDocument, programParts } from '../model/index.js';
import type { Plan } from '../plan/index.js';
import { carrierModel, type CarrierModel, type ProgramRequest } from './carrier.js';
import { NotInProgram } from './chain.js';
import { type Dialect, full, portable } from './dialect.js';
import { advanceBlock, beatBlock, generalTypes, helpers, type InterfaceBody, transactionBlock, watchBlock } from './fixed-text.js';
import { commented, plainName, settler } from './marks.js';
import { wantedAt } from './places-text.js';
import { isWholeText, type RouteText, routeText, typedLiteral } from './route-text.js';
import { isThere, stationText } from './station-text.js';
import { iecOf } from './words-text.js';
import { wordsFor } from '../route/index.js';
import { runnerBackOff } from '../schedule/index.js';

/** What the program of a controller would look like. */
export interface ProgramForm {
  /** Without types of 64 bits, and without a way to take the bits of a REAL. */
  portable: boolean;
  /** What stands in the interface block of so many channels; nothing: it has to be filled. */
  interface?: (channels: number) => InterfaceBody;
}

/** The program that carries what a controller has to carry. */
export interface ControllerProgram {
  controller: Device;
  parts: Record<ProgramPart, string>;
  /** Its name, and those of its variables by the ids of their points. */
  name: string;
  variables: ReadonlyMap<string, string>;
  requests: readonly ProgramRequest[];
  channels: CarrierModel['channels'];
  routeIds: readonly string[];
  /** Routes that it does not carry, and why. */
  leftOut: { routeId: string; name: string; why: string }[];
  /** Whether something is reckoned with single precision. */
  single: boolean;
}

/** The parts that are made here; variables are those of the list. */
type Made = Record<Exclude<ProgramPart, 'variables'>, string>;

/** The parts that are wanted as one text, in their order. */
export function programTextOf({ parts }: Pick<ControllerProgram, 'parts'>, wanted: readonly ProgramPart[]): string {
  return programParts
    .filter(({ part }) => wanted.includes(part))
    .map(({ part }) => parts[part])
    .join('\n');
}

/** What a controller has to do to carry its routes, as Structured Text (IEC 61131-3); null where it carries none. */
export function controllerProgram(document: ProjectDocument, plan: Plan, controller: Device, form: ProgramForm): ControllerProgram | null {
  const dialect = form.portable ? portable : full;
  const model = carrierModel(document, plan, controller, dialect);
  if (!model) return null;
  const { routes, leftOut } = routesOf(model, dialect);
  const stations = model.stations.map((station) => stationText(station, model, dialect));
  const program = programText(model, routes, dialect, form.interface ? [] : model.linked);
  const values = stations.flatMap(({ decode, encode }) => [...spaced(decode), ...spaced(encode)]);
  const used = usedHelpers([...values, ...program].join('\n'), dialect);
  const texts: Record<keyof Made, string[]> = {
    types: [...generalTypes(), '', ...stations.flatMap(({ types }) => spaced(types))],
    values: [...used, ...values],
    exchange: [...watchBlock(), '', ...beatBlock(), '', ...advanceBlock(), '', ...resultText()],
    interface: transactionBlock(
      form.interface?.(model.channels.length) ?? { outside: [], body: ['; (* Here the block of the package is called. *)'] },
    ),
    program,
  };
  const joined = Object.fromEntries(Object.entries(texts).map(([part, lines]) => [part, `${trimmed(lines).join('\n')}\n`])) as Made;
  const settle = settler(Object.values(joined), model.taken);
  const name = settle(`§${plainName(controller.name)}Exchange`);
  return {
    controller,
    parts: {
      variables: iecText(controller.name, variableList(document, controller).rows.map(declared)),
      ...(Object.fromEntries(Object.entries(joined).map(([part, text]) => [part, settle(text)])) as Made),
    },
    name,
    variables: new Map([...model.variables].map(([id, variable]) => [id, variable.name])),
    requests: model.requests,
    channels: model.channels,
    routeIds: routes.map(({ route }) => route.id),
    leftOut,
    single: form.portable && /§x/.test(joined.program),
  };
}

function routesOf(model: CarrierModel, dialect: Dialect): { routes: RouteText[]; leftOut: ControllerProgram['leftOut'] } {
  const routes: RouteText[] = [];
  const leftOut: ControllerProgram['leftOut'] = [];
  for (const route of model.routes) {
    try {
      for (const point of [route.source, route.destination, ...route.others, ...(route.valid ? [route.valid.point] : [])])
        if (!isThere(point, dialect)) iecOf(point, dialect);
      routes.push(routeText(route, routes.length + 1, model, dialect));
    } catch (error) {
      if (!(error instanceof NotInProgram)) throw error;
      leftOut.push({ routeId: route.id, name: route.name, why: error.message });
    }
  }
  return { routes, leftOut };
}

function programText(model: CarrierModel, routes: readonly RouteText[], dialect: Dialect, linked: CarrierModel['linked']): string[] {
  const { controller, requests, channels, stations } = model;
  const own = routes.flatMap(({ variables }) => variables);
  const read = stations.filter(({ members }) => [...members.values()].some(({ point }) => isThere(point, dialect)));
  const written = stations.filter(({ wanted }) => wanted.some(({ point }) => isThere(point, dialect)));
  const count = (rows: readonly unknown[]) => Math.max(1, rows.length);
  const name = `§${plainName(controller.name)}Exchange`;
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
    `PROGRAM ${name}`,
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

const transactionCall = [
  '§transactions[§c](',
  '  channel := §c, execute := §channels[§c].execute, unit := §channels[§c].unit, code := §channels[§c].code,',
  '  start := §channels[§c].start, count := §channels[§c].count, area := §wires[§c]',
  ');',
];

function channelLines(model: CarrierModel, read: CarrierModel['stations'], written: CarrierModel['stations']): string[] {
  const { channels, requests, stations } = model;
  const { afterTries, firstMs, factor, maxMs } = runnerBackOff;
  const byStation = (of: CarrierModel['stations'], line: (name: string) => string, otherwise: string) =>
    of.length === 0
      ? [otherwise]
      : [
          'CASE §requests[§channels[§c].request].station OF',
          ...of.map(({ number, name }) => `  ${number}: ${line(name)}`),
          ...(of.length < stations.length ? [`ELSE ${otherwise}`] : []),
          'END_CASE;',
        ];
  return [
    `FOR §c := 1 TO ${channels.length} DO`,
    '  §channels[§c].pauseMs := MAX(0, §channels[§c].pauseMs - §elapsedMs);',
    '  IF (§channels[§c].request = 0) AND (§channels[§c].pauseMs = 0) AND NOT §transactions[§c].done AND NOT §transactions[§c].error THEN',
    '    §best := 0;',
    `    FOR §r := 1 TO ${requests.length} DO`,
    '      IF (§requests[§r].channel = §c) AND (§requests[§r].waitMs <= 0) AND (§stations[§requests[§r].station].restMs = 0) THEN',
    '        IF §best = 0 THEN §best := §r;',
    '        ELSIF §requests[§r].priority < §requests[§best].priority THEN §best := §r;',
    '        ELSIF (§requests[§r].priority = §requests[§best].priority) AND (§requests[§r].waitMs < §requests[§best].waitMs) THEN §best := §r;',
    '        END_IF;',
    '      END_IF;',
    '    END_FOR;',
    '    IF §best > 0 THEN',
    '      §channels[§c].request := §best;',
    '      §channels[§c].stage := 0; §channels[§c].next := 0; §channels[§c].tried := 0; §channels[§c].finished := FALSE;',
    '      §requests[§best].begun := TRUE;',
    '      (* A period that went by while it could not go out is lost, not made up for. *)',
    '      IF §requests[§best].periodMs > 0 THEN',
    '        §requests[§best].missed := §requests[§best].missed + DINT_TO_UDINT(-§requests[§best].waitMs / §requests[§best].periodMs);',
    '        §requests[§best].waitMs := §requests[§best].periodMs - (-§requests[§best].waitMs MOD §requests[§best].periodMs);',
    '      END_IF;',
    `      FOR §i := 0 TO 124 DO §masks[§c][§i] := 0; END_FOR;`,
    ...byStation(
      written,
      (name) => `§${name}Put(request := §best, area := §areas[§c], masks := §masks[§c], orders := §${name}Wanted);`,
      ';',
    ).map((line) => `      ${line}`),
    '      §advance(request := §requests[§best], channel := §channels[§c], area := §areas[§c], masks := §masks[§c], wire := §wires[§c]);',
    '      §channels[§c].execute := §channels[§c].ready;',
    '      §channels[§c].busyMs := 0;',
    '      IF §channels[§c].finished THEN §channels[§c].request := 0; END_IF; (* Nothing is ready to go. *)',
    '    END_IF;',
    '  ELSIF (§channels[§c].request > 0) AND NOT §channels[§c].execute THEN (* The next one of a request, or the same once more. *)',
    '    §channels[§c].execute := TRUE;',
    '    §channels[§c].busyMs := 0;',
    '  END_IF;',
    '',
    ...transactionCall.map((line) => `  ${line}`),
    '  IF §channels[§c].request > 0 THEN',
    '    §r := §channels[§c].request;',
    '    §channels[§c].busyMs := §channels[§c].busyMs + §elapsedMs;',
    '    IF §channels[§c].execute AND §transactions[§c].done THEN',
    '      §channels[§c].execute := FALSE;',
    '      §channels[§c].tried := 0;',
    '      §channels[§c].pauseMs := §requests[§r].quietMs;',
    '      §requests[§r].lastMs := §channels[§c].busyMs;',
    '      §requests[§r].worstMs := MAX(§requests[§r].worstMs, §channels[§c].busyMs);',
    '      §stations[§requests[§r].station].silent := 0;',
    '      §stations[§requests[§r].station].lastRestMs := 0;',
    '      IF §requests[§r].mode = 0 THEN',
    ...byStation(read, (name) => `§${name}Take(request := §r, area := §wires[§c], values := §${name});`, ';').map(
      (line) => `        ${line}`,
    ),
    '      END_IF;',
    '      §advance(request := §requests[§r], channel := §channels[§c], area := §areas[§c], masks := §masks[§c], wire := §wires[§c]);',
    '      IF §channels[§c].finished THEN',
    '        §requests[§r].ended := TRUE;',
    '        §requests[§r].good := TRUE;',
    '        §requests[§r].result := 0;',
    '        §requests[§r].valid := §requests[§r].valid + 1;',
    '        IF §requests[§r].follows THEN §requests[§r].waitMs := §requests[§r].periodMs; END_IF;',
    '        §channels[§c].request := 0;',
    '      END_IF;',
    '    ELSIF §channels[§c].execute AND §transactions[§c].error THEN',
    '      §channels[§c].execute := FALSE;',
    '      §requests[§r].result := §transactions[§c].result;',
    '      §channels[§c].tried := §channels[§c].tried + 1;',
    '      IF (§transactions[§c].result < 256) AND (§transactions[§c].result <> 11) THEN',
    '        §requests[§r].refused := §requests[§r].refused + 1; (* It answers, and says no: asking again brings the same. By 11 a gateway says that it does not. *)',
    '        §stations[§requests[§r].station].silent := 0;',
    '        §channels[§c].tried := §requests[§r].tries;',
    '      ELSE',
    '        §requests[§r].silent := §requests[§r].silent + 1;',
    '        §stations[§requests[§r].station].silent := §stations[§requests[§r].station].silent + 1;',
    `        IF §stations[§requests[§r].station].silent >= ${afterTries} THEN (* Left alone for a while, so that it does not hold up the others. *)`,
    `          §stations[§requests[§r].station].lastRestMs := LIMIT(${firstMs}, ${factor} * §stations[§requests[§r].station].lastRestMs, ${maxMs});`,
    '          §stations[§requests[§r].station].restMs := §stations[§requests[§r].station].lastRestMs;',
    '          §channels[§c].tried := §requests[§r].tries;',
    '        END_IF;',
    '      END_IF;',
    '      IF §channels[§c].tried >= §requests[§r].tries THEN',
    '        §requests[§r].ended := TRUE;',
    '        §requests[§r].good := FALSE;',
    '        IF §requests[§r].follows THEN §requests[§r].waitMs := §requests[§r].periodMs; END_IF;',
    '        §channels[§c].request := 0;',
    '      END_IF;',
    '    END_IF;',
    '  END_IF;',
    '  (* The block sees the end of a transaction in the same scan, so that the next may begin in the next one. *)',
    '  IF NOT §channels[§c].execute AND (§transactions[§c].done OR §transactions[§c].error) THEN',
    ...transactionCall.map((line) => `    ${line}`),
    '  END_IF;',
    'END_FOR;',
  ].map((line) => (line ? `  ${line}` : line));
}

/** Results in words, for whoever shows them. */
function resultText(): string[] {
  const texts: [number, string][] = [
    [0, 'good'],
    [1, 'it has no such function'],
    [2, 'it has no register there'],
    [3, 'it does not take this value'],
    [4, 'it failed'],
    [5, 'it will take a while'],
    [6, 'it is busy'],
    [8, 'its memory is damaged'],
    [10, 'the gateway has no path'],
    [11, 'nobody answers behind the gateway'],
    [256, 'no answer'],
    [257, 'a broken answer'],
    [258, 'no connection'],
  ];
  return [
    '(* What a result means, in words. *)',
    'FUNCTION §ResultText : STRING[40]',
    'VAR_INPUT result : INT; END_VAR',
    '  CASE result OF',
    ...texts.map(([number, text]) => `    ${number}: §ResultText := '${text}';`),
    "  ELSE §ResultText := 'refused';",
    '  END_CASE;',
    'END_FUNCTION',
  ];
}

/** The functions that a text names, and those that these name. */
function usedHelpers(text: string, dialect: Dialect): string[] {
  const made = helpers.map(({ name, text: of }) => ({ name, lines: of(dialect) }));
  const used = new Set<string>();
  const look = (within: string) => {
    for (const { name, lines } of made)
      if (!used.has(name) && new RegExp(`§${name}\\b`).test(within)) {
        used.add(name);
        look(lines.join('\n'));
      }
  };
  look(text);
  return made.filter(({ name }) => used.has(name)).flatMap(({ lines }) => spaced(lines));
}

function spaced(lines: readonly string[]): string[] {
  return lines.length > 0 ? [...lines, ''] : [];
}

function trimmed(lines: readonly string[]): string[] {
  return lines.at(-1) === '' ? lines.slice(0, -1) : [...lines];
}
