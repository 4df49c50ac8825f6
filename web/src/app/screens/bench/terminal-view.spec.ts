import type { TerminalEvent } from '@plain-envoy/core/feed';
import { of, Subject } from 'rxjs';
import { Terminals } from '../../data/terminals';
import { demo, filesRead, pageOf, pick, type Stage, stage, submit, textOf, typeInto } from '../../testing.spec-helper';
import { TerminalView } from './terminal-view';

const [weighbridge, moisture] = ['Weighbridge cable', 'Moisture cable'].map((name) => demo.lines.find((line) => line.name === name)!.id);
const hexOf = (text: string) => Array.from(text, (one) => one.charCodeAt(0).toString(16).padStart(2, '0')).join('');

describe('TerminalView', () => {
  let on: Stage;
  let told: Subject<TerminalEvent>;
  let opened: unknown[];
  let sent: string[];
  let refuses: string | null;

  beforeEach(async () => {
    told = new Subject();
    [opened, sent, refuses] = [[], [], null];
    const terminals = {
      open: (...asked: unknown[]) => {
        opened.push(asked);
        return told;
      },
      send: (_line: string, _on: string, bytes: Uint8Array) => {
        sent.push(String.fromCharCode(...bytes));
        return of(refuses ? { ok: false, problem: { message: refuses, path: [] } } : { ok: true, value: {} });
      },
    };
    on = await stage([{ provide: Terminals, useValue: terminals }]);
  });

  const open = () => {
    const view = on.show(TerminalView);
    const press = (name: string) => {
      pageOf(view).querySelector<HTMLButtonElement>(`button[name=${name}]`)!.click();
      view.detectChanges();
    };
    const tell = (...events: TerminalEvent[]) => {
      for (const event of events) told.next(event);
      view.detectChanges();
    };
    const rows = () =>
      [...pageOf(view).querySelectorAll('pe-table tbody tr[data-id]')].map((row) =>
        (row as HTMLElement).innerText.replace(/\s+/g, ' ').trim(),
      );
    const field = () => pageOf(view).querySelector<HTMLInputElement>('input[name=text]')!;
    const key = (name: string) => {
      field().dispatchEvent(new KeyboardEvent('keydown', { key: name, bubbles: true }));
      view.detectChanges();
    };
    const read = filesRead();
    const give = async (input: string, text: string) => {
      const files = new DataTransfer();
      files.items.add(new File([text], 'file.txt'));
      const chooser = pageOf(view).querySelector<HTMLInputElement>(`input[name=${input}]`)!;
      chooser.files = files.files;
      chooser.dispatchEvent(new Event('change'));
      await read();
      view.detectChanges();
    };
    /** Until so many texts were sent. */
    const went = async (count: number) => {
      while (sent.length < count) await new Promise((done) => setTimeout(done, 5));
      view.detectChanges();
    };
    press('open');
    tell({ kind: 'open', settings: '9600 7E1' });
    return { went, view, press, tell, rows, field, key, give };
  };

  it('shows both directions, the newest first, with what cannot be seen by name and its bytes beside', () => {
    const { view, tell, rows, press } = open();
    expect(opened).toEqual([[weighbridge, 'stand-ins']]);
    expect(textOf(view, '[data-name=state]')).toContain('open, 9600 7E1 · 0 bytes heard, 0 sent · nothing came yet');
    tell({ kind: 'heard', atMs: 9000, hex: hexOf('42\r') }, { kind: 'sent', atMs: 9100, hex: hexOf('P'), by: 'A. Person' });
    expect(rows()[0]).toMatch(/sent by A\. Person P No telegram: .* 50$/);
    expect(rows()[1]).toMatch(/heard 42<CR> Weigh indicator sends Weighing, damaged: .* 34 32 0D$/);
    expect(textOf(view, '[data-name=state]')).toContain('3 bytes heard, 1 sent');
    press('pause');
    tell({ kind: 'heard', atMs: 9300, hex: hexOf('43\r') });
    expect(rows().length).toBe(2);
    press('pause');
    expect(rows().length).toBe(3);
    pageOf(view).querySelector<HTMLInputElement>('mat-checkbox[name=echo] input')!.click();
    view.detectChanges();
    expect(rows().length).withContext('only what is heard').toBe(2);
    press('clear');
    expect(rows()).toEqual([]);
  });

  it('boxes and names the telegrams among them, and saves all as a capture', async () => {
    const { view, tell, press } = open();
    tell(
      { kind: 'heard', atMs: 9000, hex: hexOf('0042;+018405;S;76\r') },
      { kind: 'heard', atMs: 9500, hex: hexOf('0042;+018405;S;77\r') },
    );
    const boxes = [...pageOf(view).querySelectorAll('.boxed')].map((box) => [box.textContent, box.classList.contains('damaged')]);
    expect(boxes).toEqual([
      ['0042;+018405;S;77<CR>', true],
      ['0042;+018405;S;76<CR>', false],
    ]);
    expect(textOf(view, 'tr[data-id="1"] [data-cell=telegram]')).toBe(
      'Weigh indicator sends Weighing: number 42, gross 18405, status at rest',
    );
    const made = spyOn(URL, 'createObjectURL').and.callThrough();
    press('capture');
    const file = new Uint8Array(await (made.calls.mostRecent().args[0] as Blob).arrayBuffer());
    expect([...file.subarray(0, 4)]).toEqual([0x0a, 0x0d, 0x0d, 0x0a]);
    expect(String.fromCharCode(...file)).toContain('Weigh indicator sends Weighing: number 42');
  });

  it('sends what is typed with its end mark, has it again by the arrow keys, and says what cannot be sent', async () => {
    const { view, field, key } = open();
    typeInto(view, 'input[name=text]', '<02>P');
    await submit(view);
    typeInto(view, 'input[name=text]', 'Q');
    pick(view, 'end', '<CR><LF>');
    await submit(view);
    expect(sent).toEqual(['\u0002P\r', 'Q\r\n']);
    expect(field().value).toBe('');
    key('ArrowUp');
    key('ArrowUp');
    expect(field().value).toBe('<02>P');
    key('ArrowDown');
    expect(field().value).toBe('Q');
    typeInto(view, 'input[name=text]', '5 €');
    await submit(view);
    expect(textOf(view, 'mat-error')).toContain('“€” is no single byte');
    refuses = 'The real plant is not armed.';
    typeInto(view, 'input[name=text]', 'R');
    await submit(view);
    expect([textOf(view, '[role=alert]'), field().value]).toEqual(['The real plant is not armed.', 'R']);
  });

  it('sends a file line by line, and plays what was saved', async () => {
    const { view, give, went } = open();
    typeInto(view, 'input[name=pauseMs]', '1');
    await give('lines', 'a');
    expect(textOf(view, 'mat-error')).toBe('From 10 ms to a minute.');
    typeInto(view, 'input[name=pauseMs]', '10');
    await give('lines', 'a\r\n<03>\n');
    await went(2);
    expect(sent).toEqual(['a\r', '\u0003\r']);
    await give('saved', 'nonsense');
    expect(textOf(view, '[role=alert]')).toContain('Line 1 is none of a saved terminal');
    await give('saved', '0.000 < 41\n0.010 > 42 0D\n0.020 > 43\n');
    await went(4);
    expect(sent.slice(2)).toEqual(['B\r', 'C']);
  });

  it('closes with another line, and says why one is gone', () => {
    const { view, tell, press } = open();
    tell({ kind: 'failed', sentence: 'The connection was closed.' });
    expect(textOf(view, '[role=alert]')).toBe('The connection was closed.');
    expect(textOf(view, '[data-name=state]')).toBe('closed');
    press('open');
    expect(told.observed).toBeTrue();
    pick(view, 'line', moisture!);
    view.detectChanges();
    expect(told.observed).toBeFalse();
    press('open');
    expect(opened.at(-1)).toEqual([moisture, 'stand-ins']);
  });
});
