import { compile } from '@plain-envoy/core/compile';
import '@plain-envoy/core/formula';
import { controllerProgram } from '@plain-envoy/core/controller-program';
import { lostWhen, profileFor, variableList } from '@plain-envoy/core/handover';
import { mappingSheet } from '@plain-envoy/core/mapping';
import type { Section } from '@plain-envoy/core/book';
import type { BookChapter, Device, ProjectDocument } from '@plain-envoy/core/model';
import type { ProjectFile } from '@plain-envoy/core/project-file';
import { type Plan, requestSheets } from '@plain-envoy/core/plan';
import type { TraceEntry } from '@plain-envoy/core/trace';
import { refuse } from '../problem/index.js';
import type { Reached } from '../thread/index.js';
import { Binder } from './binding/index.js';
import { type DocumentFile, writeDocument } from './documents/index.js';

/** Plans of projects that several documents are made of, one after the other. */
const plans = new WeakMap<ProjectDocument, Plan>();

function planOf(document: ProjectDocument): Plan {
  const plan = plans.get(document) ?? compile(document).plan;
  plans.set(document, plan);
  return plan;
}

/** The register map of a device in one of its formats, in register order. */
export async function exportMap(document: ProjectDocument, deviceId: string, format: string): Promise<DocumentFile> {
  const device =
    document.devices.find(({ id }) => id === deviceId) ?? refuse('not-there', 'This device is not in the project.', ['deviceId']);
  const points = document.points
    .filter((point) => point.deviceId === deviceId)
    .sort((a, b) => a.table.localeCompare(b.table) || a.offset - b.offset || (a.bit ?? 0) - (b.bit ?? 0));
  return writeDocument('map', format, stemOf(device.name) || 'map', { document, device, points });
}

/** The request sheet of a carrier (null: Plain Envoy). */
export async function exportSheet(document: ProjectDocument, carrierId: string | null, format: string): Promise<DocumentFile> {
  const sheet =
    requestSheets(document, planOf(document)).find((row) => row.carrierId === carrierId) ??
    refuse('not-there', 'Nothing is carried by this device.', ['carrierId']);
  return writeDocument('sheet', format, `${stemOf(sheet.carrier) || 'carrier'}-requests`, { sheet });
}

/** The mapping sheet of a converter. */
export async function exportMapping(document: ProjectDocument, deviceId: string, format: string): Promise<DocumentFile> {
  const converter =
    document.devices.find(({ id, kind }) => id === deviceId && kind === 'converter') ??
    refuse('not-there', 'This is no converter of the project.', ['deviceId']);
  return writeDocument('mapping', format, `${stemOf(converter.name) || 'converter'}-mapping`, {
    mapping: mappingSheet(document, converter),
  });
}

/** The variables of a controller, by the profile that its list follows. */
export async function exportVariables(document: ProjectDocument, deviceId: string, format: string): Promise<DocumentFile> {
  const controller = controllerOf(document, deviceId);
  return writeDocument('variables', format, `${stemOf(controller.name) || 'controller'}-variables`, {
    list: variableList(document, controller),
    profile: profileFor(document, deviceId),
  });
}

/** The program of a controller, in the form and with the parts that its profile says. */
export async function exportProgram(document: ProjectDocument, deviceId: string, format: string): Promise<DocumentFile> {
  const controller = controllerOf(document, deviceId);
  const profile = profileFor(document, deviceId);
  const program =
    controllerProgram(document, planOf(document), controller, profile) ??
    refuse('not-there', 'This controller carries nothing, so it has no program.', ['deviceId']);
  return writeDocument('program', format, `${stemOf(controller.name) || 'controller'}-program`, { program, parts: profile.parts });
}

/** What is lost when a device or a line of the project fails. */
export async function exportLosses(document: ProjectDocument, format: string): Promise<DocumentFile> {
  const stem = `${stemOf(document.project.name) || 'project'}-losses`;
  return writeDocument('losses', format, stem, { losses: lostWhen(document, planOf(document)) });
}

/**
 * The book of a project, or of what has to do with some of its lines, in some of its formats, made in a thread of its own; `tell` hears how far it has come. Ended by `signal`, it is
 * refused as stopped.
 */
export async function exportBook(
  file: ProjectFile,
  formats: readonly string[],
  { lineIds = null, signal, tell }: { lineIds?: LineIds; signal?: AbortSignal; tell?: (reached: Reached) => void } = {},
): Promise<DocumentFile[]> {
  ofLines(file, lineIds);
  const stem = `${stemOf(file.document.project.name) || 'project'}-book${lineIds ? '-part' : ''}`;
  const made = await bound(signal, (binder) => binder.ask<'book'>({ kind: 'book', file, lineIds, formats, stem }, tell));
  // Out of another thread bytes come as such.
  return made.map((one) => ({ ...one, body: typeof one.body === 'string' ? one.body : Buffer.from(one.body) }));
}

/** One chapter of a book, as it would stand there. */
export function chapterOfBook(file: ProjectFile, chapter: BookChapter, lineIds: LineIds, signal?: AbortSignal): Promise<Section> {
  ofLines(file, lineIds);
  return bound(signal, (binder) => binder.ask<'chapter'>({ kind: 'chapter', file, lineIds, chapter }));
}

/** The lines that a book is about; null for the whole project. */
type LineIds = readonly string[] | null;

function ofLines({ document }: ProjectFile, lineIds: LineIds): void {
  const lines = new Set(document.lines.map(({ id }) => id));
  if (lineIds?.some((id) => !lines.has(id))) refuse('not-there', 'One of these lines is not in the project.', ['lineIds']);
}

async function bound<Made>(signal: AbortSignal | undefined, make: (binder: Binder) => Promise<Made>): Promise<Made> {
  const binder = new Binder();
  const stop = () => binder.close();
  signal?.addEventListener('abort', stop, { once: true });
  try {
    return await make(binder);
  } finally {
    signal?.removeEventListener('abort', stop);
    binder.close();
  }
}

/** The exchanges of a trace: for packet analysers with the plant’s own addresses, for spreadsheets, or as sentences. */
export async function exportTrace(document: ProjectDocument, records: readonly TraceEntry[], format: string): Promise<DocumentFile> {
  return writeDocument('trace', format, 'trace', { document, plan: planOf(document), records });
}

function controllerOf(document: ProjectDocument, deviceId: string): Device {
  return (
    document.devices.find(({ id, kind }) => id === deviceId && kind === 'controller') ??
    refuse('not-there', 'This is no controller of the project.', ['deviceId'])
  );
}

function stemOf(name: string): string {
  return name.replace(/[^A-Za-z0-9]+/g, '-').replace(/^-|-$/g, '');
}
