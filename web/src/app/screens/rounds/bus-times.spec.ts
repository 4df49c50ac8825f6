import { demo, pageOf, stage, textOf, turn } from '../../testing.spec-helper';
import { BusTimes } from './bus-times';

const line = demo.lines.find(({ kind }) => kind === 'can')!;

describe('A line of CAN in time', () => {
  const shown = async (changed: Partial<typeof demo> = {}) => {
    const on = await stage();
    on.project.load();
    on.http.expectOne(`/api/projects/${demo.project.id}`).flush({ revision: 1, document: { ...demo, ...changed }, undo: null, redo: null });
    const view = on.show(BusTimes, { lineId: line.id });
    await turn();
    view.detectChanges();
    return view;
  };

  it('shows each frame in the order in which it wins, with its bits and how late it can be', async () => {
    const view = await shown();
    expect(textOf(view, '.sentence')).toMatch(/fill 1 % of it.* Each is there before its next\.$/);
    const rows = [...pageOf(view).querySelectorAll('tbody tr')].map(({ textContent }) => textContent.replace(/\s+/g, ' ').trim());
    expect(rows.map((row) => row.slice(0, 8))).toEqual(['18A01003', '18A02003', '18A07F03']);
    expect(rows[0]).toMatch(/^18A01003 ?Position ?of Floor turner ?100 ?160 ?0\.64 ?1\.12$/);
  });

  it('says which comes too late on a slow bus, and what is not counted', async () => {
    const [position, alive, drive] = demo.frames;
    const view = await shown({
      lines: demo.lines.map((row) => (row.kind === 'can' ? { ...row, bitrate: 10_000 } : row)),
      frames: [position!, { ...alive!, when: { on: 'period', periodMs: 20 } }, { ...drive!, when: { on: 'change', atLeastMs: null } }],
    });
    expect(textOf(view, '.sentence')).toContain(
      'Alive can take longer than its period. 1 is sent only on a change or once, and not counted.',
    );
    expect(textOf(view, 'td.bad')).not.toBe('');
  });
});
