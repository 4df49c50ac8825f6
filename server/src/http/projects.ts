import { begin, beginnings } from '@plain-envoy/core/beginnings';
import type { ListedProject, TakeInEvent } from '@plain-envoy/core/feed';
import { listedKinds, listOf, Project, type ProjectDocument } from '@plain-envoy/core/model';
import type { ProjectFile } from '@plain-envoy/core/project-file';
import type { FastifyInstance } from 'fastify';
import type { ZodTypeProvider } from 'fastify-type-provider-zod';
import { v7 as newId } from 'uuid';
import { z } from 'zod';
import { Reader } from '../files/index.js';
import { parcelArchive } from '../parcel/index.js';
import { refuse } from '../problem/index.js';
import { progressOf } from '../progress/index.js';
import { bytesOf } from './bytes.js';
import { madeFile } from './made-file.js';
import { sendFile } from './send-file.js';
import { ById, type Services } from './services.js';
import { hangUp, stream, streamOnceBegun } from './stream.js';

const FILE_BYTES = 256 * 1024 * 1024;
const { name, client, note } = Project.shape;
const AskBegin = z.strictObject({
  ...{ name, client },
  like: z.string().max(40).default('empty').describe('The id of a beginning'),
  devices: z.int('A whole number.').optional().describe('How many field devices'),
});
const AskAbout = z.strictObject({ name, client, note });
const AskArchived = z.strictObject({ archived: z.boolean() });
const AskFile = z.strictObject({ evidence: z.enum(['with', 'without']).default('with') });

type Used = Pick<Services, 'projects' | 'catalogue' | 'workplaces'>;

/** All projects: listed, begun, copied, named, put away, thrown away and taken back, and as files. */
export function addProjects(instance: FastifyInstance, { projects, catalogue, workplaces }: Used): void {
  const app = instance.withTypeProvider<ZodTypeProvider>();

  app.get('/api/projects', async () => (await catalogue.list()).map(withBench));
  app.get('/api/beginnings', () => beginnings.map(({ id, name: called, says, devices }) => ({ id, name: called, says, devices })));
  app.post('/api/projects', { schema: { body: AskBegin } }, async (request, reply) => {
    const begun = begin({ ...request.body, devices: request.body.devices }, newId);
    if (!begun.ok) refuse('does-not-fit', begun.problem.message, begun.problem.path);
    await catalogue.create(begun.value);
    return reply.code(201).send(begun.value.project);
  });

  app.post('/api/projects/file', { bodyLimit: FILE_BYTES }, (request, reply) =>
    streamOnceBegun(reply, takeIn(bytesOf(request), hangUp(reply))),
  );
  app.post('/api/projects/:id/parcel', { schema: { params: ById, body: z.strictObject({}) } }, async (request, reply) => {
    const file = await catalogue.file(request.params.id, 'all');
    const signal = hangUp(reply);
    const made = { mediaType: 'application/zip', name: `${stemOf(file)}.zip` };
    return stream(
      reply,
      madeFile(async (tell) => ({ ...made, body: await parcelArchive(file, { signal, tell }) })),
    );
  });
  app.get('/api/projects/:id/file', { schema: { params: ById, querystring: AskFile } }, async (request, reply) => {
    const file = await catalogue.file(request.params.id, request.query.evidence === 'with' ? 'all' : 'alone');
    return sendFile(reply, {
      mediaType: 'application/json',
      name: `${stemOf(file)}.plain-envoy.json`,
      body: `${JSON.stringify(file, null, 1)}\n`,
    });
  });

  app.post('/api/projects/:id/duplicate', { schema: { params: ById } }, async (request, reply) =>
    reply.code(201).send(await catalogue.duplicate(request.params.id)),
  );
  app.put('/api/projects/:id/about', { schema: { params: ById, body: AskAbout } }, async (request) => {
    const { document, revision } = await projects.get(request.params.id);
    const before = document.project;
    const after = { ...before, ...request.body };
    const change = { entity: 'project', id: before.id, before, after } as const;
    return projects.apply(before.id, { label: `About ${after.name}`, baseRevision: revision, changes: [change] });
  });
  app.put('/api/projects/:id/archived', { schema: { params: ById, body: AskArchived } }, async (request) => {
    const { id } = request.params;
    if (request.body.archived) await endWork(id, 'put away');
    await catalogue.archive(id, request.body.archived);
    return {};
  });
  app.delete('/api/projects/:id', { schema: { params: ById } }, async (request) => {
    await endWork(request.params.id, 'deleted');
    await catalogue.remove(request.params.id, true);
    return {};
  });
  app.post('/api/projects/:id/restore', { schema: { params: ById } }, async (request) => {
    await catalogue.remove(request.params.id, false);
    return {};
  });

  const withBench = (listed: ListedProject): ListedProject => {
    const state = workplaces.there(listed.id)?.bench.state;
    return state?.running ? { ...listed, runsOn: state.on } : listed;
  };
  /** What runs on the real plant is not ended in passing. */
  const endWork = async (projectId: string, done: string) => {
    const state = workplaces.there(projectId)?.bench.state;
    if (state?.running && state.on === 'real') refuse('not-now', `It runs on the real plant. Stop it there before it is ${done}.`);
    await workplaces.leave(projectId);
  };
  async function* takeIn(bytes: Uint8Array, signal: AbortSignal): AsyncGenerator<TakeInEvent> {
    const reader = new Reader();
    const stop = () => reader.close();
    signal.addEventListener('abort', stop, { once: true });
    try {
      const read = await reader.ask<'project'>({ kind: 'project', bytes });
      if (!read.ok) refuse('does-not-fit', read.problem.message, read.problem.path);
      const file = read.value;
      yield { kind: 'read', rows: rowsOf(file.document) };
      const steps = progressOf<number, Project>((tell) => catalogue.takeIn(file, signal, tell));
      let step = await steps.next();
      for (; !step.done; step = await steps.next()) yield { kind: 'written', rows: step.value };
      const project = step.value;
      yield { kind: 'done', id: project.id, name: project.name };
    } finally {
      signal.removeEventListener('abort', stop);
      reader.close();
    }
  }
}

function rowsOf(document: ProjectDocument): number {
  return listedKinds.reduce((sum, kind) => sum + document[listOf(kind)].length, 0);
}

/** What a file of a project is called. */
function stemOf({ document: { project } }: ProjectFile): string {
  return project.name.replace(/[^\p{L}\p{N}]+/gu, '-').replace(/[^\x20-\x7e]/g, '_');
}
