import { TestBed } from '@angular/core/testing';
import { EditorView } from '@codemirror/view';
import type { StandInState } from '@plain-envoy/core/feed';
import type { Change, Device } from '@plain-envoy/core/model';
import { BehaviorSubject, of } from 'rxjs';
import { StandIns } from '../../data/stand-ins';
import { demo, deviceNamed, pageOf, pick, type Stage, stage, submit, textOf, turn, typeInto } from '../../testing.spec-helper';
import { MapState } from './map-state';
import { ProgramView } from './program-view';

const burner = deviceNamed('Burner control');

/** The text is looked at once nobody has typed for a moment. */
const checked = () => new Promise((done) => setTimeout(done, 300));

describe('ProgramView', () => {
  let on: Stage;
  let states: BehaviorSubject<StandInState[]>;
  const values = { burning: true, Status_word: 3, goal: 1240 };
  const standIn = (program: StandInState['program']) => ({ deviceId: burner.id, program }) as StandInState;

  beforeEach(async () => {
    states = new BehaviorSubject([standIn({ problems: [], stopped: null })]);
    const standIns = { all$: states, variables: () => of(values), refresh: () => undefined };
    // A station that nobody plays.
    const devices = demo.devices.map((device) => (device.name === 'Weigh indicator' ? { ...device, standIn: null } : device));
    on = await stage([MapState, { provide: StandIns, useValue: standIns }], { ...demo, devices });
  });

  const open = async (name = 'Burner control') => {
    TestBed.inject(MapState).deviceId.set(deviceNamed(name).id);
    const view = on.show(ProgramView);
    await checked();
    view.detectChanges();
    const editor = EditorView.findFromDOM(pageOf(view).querySelector<HTMLElement>('.cm-editor')!)!;
    const type = async (text: string) => {
      editor.dispatch({ changes: { from: 0, to: editor.state.doc.length, insert: text } });
      await checked();
      view.detectChanges();
    };
    return { view, editor, type, says: () => textOf(view, '[data-name=says]') };
  };
  const sent = () => on.http.expectOne(`/api/projects/${demo.project.id}/change-sets`).request.body as { label: string; changes: Change[] };

  it('shows the program as it runs, with what its variables hold beside the lines and beside the points', async () => {
    const { view, editor, says } = await open();
    expect(editor.state.doc.toString()).toBe(burner.program);
    expect(says()).toBe('Runs.');
    const beside = [...pageOf(view).querySelectorAll('.beside-line')].map((one) => one.textContent);
    expect(beside).toContain('TRUE');
    expect(textOf(view, 'tr[data-id=Status_word]')).toContain('3');
    states.next([standIn({ problems: [], stopped: { line: 7, column: 3, message: 'Division by zero.', scan: 12 } })]);
    view.detectChanges();
    expect(says()).toBe('Stopped in line 7, scan 12: Division by zero.');
  });

  it('says while one types what is wrong and where, goes there, and applies what is typed as one edit', async () => {
    const { view, editor, type, says } = await open();
    await type('PROGRAM P\n  Flue_temprature := 5;\nEND_PROGRAM');
    expect(says()).toBe('Line 2: There is no variable Flue_temprature. Did you mean Flue_temperature?');
    expect(pageOf(view).querySelector('.cm-lintRange-error')?.textContent).toBe('Flue_temprature');
    expect(pageOf(view).querySelector('.beside-line')).withContext('what runs is not beside other lines').toBeNull();
    pageOf(view).querySelector<HTMLButtonElement>('button[name=go]')!.click();
    expect(editor.state.doc.lineAt(editor.state.selection.main.head).number).toBe(2);
    await type('PROGRAM P\n  Flue_temperature := 5;\nEND_PROGRAM');
    expect(says()).toBe('Sound, and not applied yet.');
    pageOf(view).querySelector<HTMLButtonElement>('button[name=apply]')!.click();
    const { label, changes } = sent();
    expect(label).toBe('The program of Burner control');
    expect((changes[0]!.after as unknown as Device).program).toContain('Flue_temperature := 5;');
  });

  it('gives back what was there, and says of a device without a program, or without a stand-in, what that means', async () => {
    const { view, editor, type, says } = await open();
    await type('x');
    pageOf(view).querySelector<HTMLButtonElement>('button[name=revert]')!.click();
    await turn();
    expect(editor.state.doc.toString()).toBe(burner.program);
    const converter = await open('Grid converter');
    expect(converter.says()).toBe('No program: its stand-in holds what is written to it.');
    const station = await open('Weigh indicator');
    expect(textOf(station.view, '.remark')).toContain('No stand-in plays this device');
    expect([view !== converter.view, says()].length).toBe(2);
  });

  it('writes the lines of a behaviour, and says at its place what is missing', async () => {
    const { view, editor, type } = await open('Grid station');
    await type('');
    pick(view, 'behaviour', 'count');
    view.detectChanges();
    await submit(view);
    expect(textOf(view, 'pe-behaviour-form mat-error')).toBe('Choose a point: what counts.');
    typeInto(view, 'pe-behaviour-form input[name=every]', 'x');
    pick(view, 'value', 'Curtailment');
    await submit(view);
    expect(textOf(view, 'pe-behaviour-form mat-error')).toBe('A number.');
    typeInto(view, 'pe-behaviour-form input[name=every]', '2');
    await submit(view);
    await turn();
    expect(editor.state.doc.toString()).toContain('Curtailment := Curtailment + 1;');
    expect(editor.state.doc.toString()).toContain('PT := T#2000ms');
  });

  it('writes the name of a point where the cursor stands', async () => {
    const { view, editor, type } = await open('Grid station');
    await type('');
    pageOf(view).querySelector<HTMLElement>('tr[data-id=Curtailment]')!.click();
    await turn();
    expect(editor.state.doc.toString()).toBe('Curtailment');
  });
});
