import type { LinkPortState } from '../cyclic-line/index.js';
import { fernhollow } from '../demo/index.js';
import { diagnoseLinks } from './index.js';

const demo = fernhollow();
const [opener, station] = (['opens', 'answers'] as const).map((role) =>
  demo.ports.find((port) => port.kind === 'cyclic' && port.role === role)!,
) as [(typeof demo.ports)[0], (typeof demo.ports)[0]];
const line = demo.lines.find(({ kind }) => kind === 'cyclic')!;
const well: LinkPortState = {
  ...{ upMs: 60_000, state: 'running', problem: null, heard: 600, sent: 600, missed: 0, doubled: 0, lost: 0, ageMs: 40 },
  ...{ input: '03 00', output: '00 01', program: null },
};
const look = (open: Partial<LinkPortState> | null, own: Partial<LinkPortState> | null, of = demo) =>
  diagnoseLinks(of, (id) => {
    const fields = id === opener.id ? open : id === station.id ? own : null;
    return fields ? { ...well, ...fields } : undefined;
  });
const first = (...given: Parameters<typeof look>) => look(...given)[0]?.causes[0];

describe('Stations on cyclic links', () => {
  it('are in order while both ends run, and not judged where no stand-ins play them', () => {
    expect([look({}, {}), look(null, null)]).toEqual([[], []]);
  });

  it('are diagnosed by how both ends stand, with the way to where it is mended, and what their lamps show', () => {
    const problem = 'It has 16 bytes in and 12 out, and is opened with 16 bytes in and 14 out.';
    const set = { ...demo, ports: demo.ports.map((port) => (port.id === opener.id ? { ...port, outputBytes: 14 } : port)) };
    const refused = first({ state: 'refused', problem }, { state: 'refused' }, set as typeof demo)!;
    expect([refused.cause, refused.at]).toEqual(['sizes-differ', { entity: 'port', id: opener.id }]);
    expect(refused.sentence).toBe(`Silo conveyor refuses Silo link: ${problem}`);
    expect(refused.evidence).toContain('Its lamps show: Kiln controller: LINK blinks twice and pauses; Silo conveyor: COM blinks.');

    const silent = first({ state: 'opening' }, null)!;
    expect([silent.cause, silent.at]).toEqual(['station-silent', { entity: 'port', id: station.id }]);
    expect(first(null, { state: 'lost' })).toEqual(
      jasmine.objectContaining({ cause: 'nobody-opens', at: { entity: 'port', id: opener.id } }),
    );
    expect(first({ state: 'lost' }, {})?.cause).toBe('link-lost');
    const unused = first({}, { state: 'not valid' })!;
    expect([unused.cause, unused.at]).toEqual(['not-valid', { entity: 'line', id: line.id }]);
    expect(unused.sentence).toBe('The output of Silo conveyor is not used: its byte 0 is 0, and has to be 1 to say that it is valid.');
    expect(first({ problem: 'Number: 70000 is too much.' }, {})?.sentence).toContain('Number: 70000');
    expect(first({ missed: 60 }, {})?.cause).toBe('updates-missed');
    expect(first({ missed: 3 }, {})).toBeUndefined();
  });
});
