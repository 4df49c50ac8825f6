import { iecText } from '../format/index.js';
import { declared, variableList } from '../handover/index.js';
import { type Device, type ProgramPart, type ProjectDocument, programParts } from '../model/index.js';
import type { Plan } from '../plan/index.js';
import { carrierModel, type CarrierModel, type ProgramRequest } from './carrier.js';
import { NotInProgram } from './chain.js';
import { type Dialect, full, portable } from './dialect.js';
import { advanceBlock, beatBlock, generalTypes, type InterfaceBody, resultText, transactionBlock, watchBlock } from './fixed-text.js';
import { helpers } from './helpers-text.js';
import { settler } from './marks.js';
import { programName, programText } from './program-text.js';
import { type RouteText, routeText } from './route-text.js';
import { isThere, stationText } from './station-text.js';
import { iecOf } from './words-text.js';

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
  const name = settle(programName(controller));
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
