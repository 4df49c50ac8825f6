import {
  documentMenus,
  exportBook,
  exportLosses,
  exportMap,
  exportMapping,
  exportProgram,
  exportSheet,
  exportVariables,
} from '../files/index.js';
import type { DocumentFile } from '../files/index.js';
import { controllersOf } from '@plain-envoy/core/handover';
import { requestSheets } from '@plain-envoy/core/plan';
import type { ParcelPart, Wanted } from './definition.js';
import { evidenceFiles } from './evidence/index.js';

type Menu = keyof ReturnType<typeof documentMenus>;
const menus = documentMenus();

/** A document in each of its formats. */
function inAll(menu: Menu, folder: string, stem: string, write: (format: string) => Promise<DocumentFile>): Wanted[] {
  return menus[menu].map(({ id, extension }) => ({ folder, stem, extension, write: async () => (await write(id)).body }));
}

/** The project itself, as it can be taken in again. */
const project: ParcelPart = ({ file }) => [
  { folder: '', stem: 'project', extension: 'plain-envoy.json', write: () => `${JSON.stringify(file, null, 1)}\n` },
];

const requests: ParcelPart = ({ file: { document }, plan }) =>
  requestSheets(document, plan).flatMap(({ carrierId, carrier }) =>
    inAll('sheet', 'requests', carrier, (format) => exportSheet(document, carrierId, format)),
  );

const mappings: ParcelPart = ({ file: { document } }) =>
  document.devices
    .filter(({ kind }) => kind === 'converter')
    .flatMap(({ id, name }) => inAll('mapping', 'mapping', name, (format) => exportMapping(document, id, format)));

const variables: ParcelPart = ({ file: { document } }) =>
  controllersOf(document).flatMap(({ id, name }) =>
    inAll('variables', 'variables', name, (format) => exportVariables(document, id, format)),
  );

const programs: ParcelPart = ({ file: { document }, plan }) =>
  controllersOf(document)
    .filter(({ id }) => plan.routes.some(({ carrierId }) => carrierId === id))
    .flatMap(({ id, name }) => inAll('program', 'programs', name, (format) => exportProgram(document, id, format)));

const maps: ParcelPart = ({ file: { document } }) => {
  const withPoints = new Set(document.points.map(({ deviceId }) => deviceId));
  return document.devices
    .filter(({ id }) => withPoints.has(id))
    .flatMap(({ id, name }) => inAll('map', 'registers', name, (format) => exportMap(document, id, format)));
};

const losses: ParcelPart = ({ file: { document } }) => inAll('losses', '', 'what-is-lost-when', (format) => exportLosses(document, format));

/** The book, in each of its formats. */
const book: ParcelPart = ({ file, signal }) => {
  const formats = menus.book.map(({ id }) => id);
  let made: ReturnType<typeof exportBook> | null = null;
  return menus.book.map(({ extension }, index) => ({
    ...{ folder: '', stem: 'book', extension },
    write: async (tell) => {
      made ??= exportBook(file, formats, { signal, tell: ({ done, total }) => tell(done / total) });
      return (await made)[index]!.body;
    },
  }));
};

/** What was seen and done, as far as there is something. */
const evidence: ParcelPart = ({ file }) =>
  evidenceFiles(file).map(({ stem, text }) => ({ folder: 'evidence', stem, extension: 'csv', write: () => text }));

/** What is attached to devices: manuals, recordings, captures. */
const attached: ParcelPart = ({ file: { attachments, document } }) => {
  const names = new Map(document.devices.map(({ id, name }) => [id, name]));
  return attachments.map(({ deviceId, name, base64 }) => {
    const dot = name.lastIndexOf('.');
    const [stem, extension] = dot > 0 ? [name.slice(0, dot), name.slice(dot + 1)] : [name, ''];
    return {
      folder: 'attached',
      stem: `${names.get(deviceId) ?? 'device'} ${stem}`,
      extension,
      write: () => Buffer.from(base64, 'base64'),
    };
  });
};

/** What is in a parcel. A new part is a function here and its name in the list. */
export const parts: readonly ParcelPart[] = [project, book, requests, mappings, variables, programs, maps, losses, evidence, attached];
