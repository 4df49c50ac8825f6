import { toHex } from '@plain-envoy/core/frame';
import type { ProjectDocument } from '@plain-envoy/core/model';
import { type Plan } from '@plain-envoy/core/plan';
import { type Peer, teller, type TraceRecord, writePcapng } from '@plain-envoy/core/trace';
import Papa from 'papaparse';
import { compile } from '@plain-envoy/core/compile';

export const traceFormats = ['pcapng', 'csv', 'txt'] as const;
export type TraceFormat = (typeof traceFormats)[number];

const types: Record<TraceFormat, string> = {
  pcapng: 'application/octet-stream',
  csv: 'text/csv; charset=utf-8',
  txt: 'text/plain; charset=utf-8',
};

/** The exchanges of a trace as a file: for packet analysers with the plant’s own addresses, for spreadsheets, or as sentences. */
export function exportTrace(document: ProjectDocument, records: readonly TraceRecord[], format: TraceFormat) {
  return { type: types[format], name: `trace.${format}`, body: bodyOf(document, records, format) };
}

function bodyOf(document: ProjectDocument, records: readonly TraceRecord[], format: TraceFormat): Buffer {
  const { plan } = compile(document);
  if (format === 'pcapng') return Buffer.from(writePcapng(records, peersOf(plan)));
  const tell = teller(document, plan.requests);
  if (format === 'txt') return Buffer.from(records.map((record) => `${timeOf(record)}  ${tell(record).sentence}\n`).join(''));
  const rows = records.map((record) => {
    const { who, sentence } = tell(record);
    const { number, unit, functionCode, end, ms, sent, got } = record;
    return [
      number,
      timeOf(record),
      who,
      unit,
      functionCode,
      end,
      ms === null ? null : Number(ms.toFixed(3)),
      hexOf(sent),
      hexOf(got),
      sentence,
    ];
  });
  const head = ['Number', 'Time', 'Device', 'Unit', 'Function', 'End', 'ms', 'Sent', 'Received', 'In words'];
  return Buffer.from(`\uFEFF${Papa.unparse([head, ...rows], { escapeFormulae: true })}\r\n`);
}

/** Where the endpoints of a plan are in the plant; a serial line has no address, and each stands as one of this machine. */
export function peersOf({ endpoints }: Plan): (endpointId: string) => Peer | null {
  const peers = new Map(
    endpoints.map((endpoint, index): [string, Peer] => [
      endpoint.id,
      endpoint.via === 'line' ? { ip: `127.0.1.${(index % 240) + 1}`, port: 502 } : { ip: endpoint.ip, port: endpoint.tcpPort },
    ]),
  );
  return (id) => peers.get(id) ?? null;
}

function hexOf(frame: Uint8Array | null): string {
  return frame ? toHex(frame) : '';
}

function timeOf({ atMs }: TraceRecord): string {
  return atMs === null ? '' : new Date(atMs).toISOString();
}
