import { readMapJson, readThing } from '@plain-envoy/core/format';
import type { PointBody } from '@plain-envoy/core/model';
import { readTemplate } from '@plain-envoy/core/project-file';
import { bad, good, type Outcome } from '@plain-envoy/core/outcome';
import type { Source, SourceEntry, TextFormat } from './definition.js';

/** Our own maps and devices by the format that they name, and Thing Descriptions. */
export const json: TextFormat = {
  isIn: (text) => /^(\{|\[\{)/.test(text.trimStart()),
  read(text, encoding) {
    let read: unknown;
    try {
      read = JSON.parse(text);
    } catch (error) {
      return bad(`This starts like JSON in ${encoding}, but is damaged: ${(error as Error).message}`);
    }
    const own = ours[String((read as { format?: unknown }).format)];
    if (!own) return thing(read, encoding);
    const bodies = own.read(read, text);
    return bodies.ok ? good({ kind: 'points', what: `${own.what}, ${encoding}`, remarks: [], entries: bodies.value.map(asEntry) }) : bodies;
  },
};

const ours: Readonly<Record<string, { what: string; read(json: unknown, text: string): Outcome<PointBody[]> }>> = {
  'plain-envoy map': { what: 'A register map of our own', read: readMapJson },
  'plain-envoy device': {
    what: 'A saved device',
    read(_, text) {
      const template = readTemplate(text);
      return template.ok ? good(template.value.points.map(({ place: _, ...body }) => body)) : template;
    },
  },
};

function thing(json: unknown, encoding: string): Outcome<Source> {
  const read = readThing(json);
  if (!read.ok) return bad(`This is JSON in ${encoding}, but neither a map of our own nor a Thing Description: ${read.problem.message}`);
  const { points, skipped } = read.value;
  const entries = [...points.map(asEntry), ...skipped.map(({ name, why }) => ({ name, line: null, body: bad(why) }))];
  return good({ kind: 'points', what: `A Thing Description, ${encoding}`, remarks: [], entries });
}

function asEntry(body: PointBody): SourceEntry {
  return { name: body.name, line: null, body: good(body) };
}
