import { rawText, valueText } from '@plain-envoy/core/model';
import type { FastifyInstance } from 'fastify';
import type { ZodTypeProvider } from 'fastify-type-provider-zod';
import { z } from 'zod';
import { AskArm, AskConfirm, AskForce, AskInquiry, AskPattern, AskReading, AskTrips, AskWrite } from '../bench/index.js';
import { ById, type Services } from './services.js';
import { stream } from './stream.js';

const AskRun = z.strictObject({ on: z.enum(['stand-ins', 'real']).default('stand-ins') }).default({ on: 'stand-ins' });
const AskBlock = z.strictObject({ writes: z.array(AskWrite).min(1, 'At least one value.').max(200, 'At most 200 values.') });
const AskSeries = z.strictObject({ pointIds: z.array(z.uuid()).max(24, 'At most 24 values at a time.'), sinceMs: z.number().min(0) });
const AskCounters = z.strictObject({ deviceId: z.uuid('That is no id of a device.') });
const OfMove = z.object({ id: ById.shape.id, moveId: z.uuid('That is no id of a moving value.') });
const OfErrand = z.object({ id: ById.shape.id, errandId: z.uuid('That is no id of an errand.') });
const OfRun = z.object({ id: ById.shape.id, runId: z.uuid('That is no id of a run.') });

type Used = Pick<Services, 'projects' | 'workplaces' | 'evidence'>;

/** The bench: run, arm, and what a person does while it runs. Each thing that is written by hand is kept in a list. */
export function addBench(instance: FastifyInstance, { projects, workplaces, evidence }: Used): void {
  const app = instance.withTypeProvider<ZodTypeProvider>();
  const benchOf = (projectId: string) => workplaces.of(projectId).bench;

  app.get('/api/projects/:id/bench', { schema: { params: ById } }, (request) => benchOf(request.params.id).state);
  app.get('/api/projects/:id/bench/texts', { schema: { params: ById } }, (request) => benchOf(request.params.id).texts(request.params.id));
  app.post('/api/projects/:id/bench/run', { schema: { params: ById, body: AskRun } }, async (request) => {
    const { document } = await projects.get(request.params.id);
    const { bench, played } = workplaces.of(document.project.id);
    if (request.body.on === 'stand-ins') await played.play(document);
    bench.run(document, request.body.on);
    return bench.state;
  });
  app.post('/api/projects/:id/bench/stop', { schema: { params: ById } }, (request) => {
    const bench = benchOf(request.params.id);
    bench.stop();
    return bench.state;
  });
  app.put('/api/projects/:id/bench/armed', { schema: { params: ById, body: AskArm } }, async (request) => {
    const { document, revision } = await projects.get(request.params.id);
    const bench = benchOf(document.project.id);
    const confirmed = bench.arm(document, request.body).lines();
    await evidence.keep(document.project.id, 'hand', document.project.id, revision, {
      sentence: `The real plant was armed for ${request.body.minutes} min, for ${confirmed.length} things that it does there.`,
      confirmed,
    });
    return bench.state;
  });
  app.put('/api/projects/:id/bench/confirmed', { schema: { params: ById, body: AskConfirm } }, async (request) => {
    const { document, revision } = await projects.get(request.params.id);
    const bench = benchOf(document.project.id);
    const count = bench.state.awaiting?.count ?? 0;
    const confirmed = bench.confirm(document, request.body).lines();
    await evidence.keep(document.project.id, 'hand', document.project.id, revision, {
      sentence: `${count} differences of what is done on the real plant were confirmed.`,
      confirmed,
    });
    return bench.state;
  });
  app.put('/api/projects/:id/armed', { schema: { params: ById, body: AskReading } }, async (request) => {
    const { document, revision } = await projects.get(request.params.id);
    const bench = benchOf(document.project.id);
    bench.armReading(document, request.body.minutes);
    await evidence.keep(document.project.id, 'hand', document.project.id, revision, {
      sentence: `Real devices may be asked for ${request.body.minutes} min.`,
    });
    return bench.state;
  });
  app.delete('/api/projects/:id/bench/armed', { schema: { params: ById } }, (request) => {
    const { arming, bench } = workplaces.of(request.params.id);
    arming.disarm(request.params.id);
    return bench.state;
  });

  const told = async (projectId: string, of: string, sentence: string) => {
    const { revision } = await projects.get(projectId);
    const where = benchOf(projectId).state.on === 'real' ? 'on the real plant' : 'on the stand-ins';
    await evidence.keep(projectId, 'hand', of, revision, { sentence: `${sentence} (${where})` });
    return { sentence };
  };
  const write = async (projectId: string, asked: AskWrite) => {
    const { point, words } = await benchOf(projectId).write(projectId, asked);
    const { document } = await projects.get(projectId);
    const device = document.devices.find(({ id }) => id === point.deviceId)?.name;
    const value = `${valueText(words, point)} (${rawText(words, point)})`;
    const sentence = asked.broadcast
      ? `${value} was sent to every unit of the line of ${device}, for ${point.name}; nobody confirms it.`
      : `${device}, ${point.name} was set to ${value}.`;
    return told(projectId, point.id, sentence);
  };
  app.post('/api/projects/:id/bench/write', { schema: { params: ById, body: AskWrite } }, (request) =>
    write(request.params.id, request.body),
  );
  app.post('/api/projects/:id/bench/write-block', { schema: { params: ById, body: AskBlock } }, async (request) => {
    const done: { sentence: string }[] = [];
    for (const each of request.body.writes) done.push(await write(request.params.id, each));
    return { sentence: `${done.length} values were written.` };
  });
  app.post('/api/projects/:id/bench/inquire', { schema: { params: ById, body: AskInquiry } }, async (request) => {
    const { id } = request.params;
    const { device, changes, facts } = await benchOf(id).inquire(id, request.body);
    const { functionCode } = request.body.ask;
    const said = facts.map(({ name, text }) => `${name}: ${text}`).join('; ') || 'nothing, as it should';
    if (changes === null) return { sentence: `${device.name} answers ${said}.`, facts };
    const { sentence } = await told(
      id,
      device.id,
      `${device.name} was asked by function ${functionCode}, which ${changes}. It answered ${said}.`,
    );
    return { sentence, facts };
  });
  app.post('/api/projects/:id/bench/counters', { schema: { params: ById, body: AskCounters } }, (request) =>
    benchOf(request.params.id).counters(request.params.id, request.body.deviceId),
  );
  app.put('/api/projects/:id/bench/force', { schema: { params: ById, body: AskForce } }, (request) =>
    told(request.params.id, request.body.routeId, benchOf(request.params.id).force(request.params.id, request.body)),
  );
  app.post('/api/projects/:id/bench/patterns', { schema: { params: ById, body: AskPattern } }, (request) =>
    told(request.params.id, request.body.pointId, benchOf(request.params.id).move(request.params.id, request.body)),
  );
  app.delete('/api/projects/:id/bench/patterns/:moveId', { schema: { params: OfMove } }, (request) => {
    const bench = benchOf(request.params.id);
    bench.endMove(request.params.moveId);
    return bench.state;
  });
  app.get('/api/projects/:id/by-hand', { schema: { params: ById } }, async (request) =>
    (await evidence.list(request.params.id, 'hand', 200)).map(({ id, atMs, revision, by, body }) => ({ id, atMs, revision, by, ...body })),
  );

  app.post('/api/projects/:id/bench/series', { schema: { params: ById, body: AskSeries } }, (request) =>
    benchOf(request.params.id).series(request.params.id, request.body.pointIds, request.body.sinceMs),
  );
  app.post('/api/projects/:id/bench/round-trip', { schema: { params: ById, body: AskTrips } }, (request, reply) =>
    stream(reply, benchOf(request.params.id).trips(request.params.id, request.body)),
  );

  const errandsOf = (projectId: string) => workplaces.of(projectId).errands;
  app.get('/api/projects/:id/errand-runs', { schema: { params: ById } }, (request) => errandsOf(request.params.id).list());
  app.get('/api/projects/:id/errands/:errandId/runs', { schema: { params: OfErrand } }, (request) =>
    errandsOf(request.params.id).history(request.params.id, request.params.errandId),
  );
  app.post('/api/projects/:id/errands/:errandId/run', { schema: { params: OfErrand } }, async (request) =>
    errandsOf(request.params.id).byHand(request.params.id, request.params.errandId),
  );
  app.post('/api/projects/:id/errand-runs/:runId/stop', { schema: { params: OfRun } }, (request) => {
    const errands = errandsOf(request.params.id);
    errands.stop(request.params.runId);
    return errands.list();
  });
}
