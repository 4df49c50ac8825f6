import { noIdentification } from '@plain-envoy/core/identity';
import { provideHttpClient } from '@angular/common/http';
import { HttpTestingController, provideHttpClientTesting } from '@angular/common/http/testing';
import { type ComponentFixture, TestBed } from '@angular/core/testing';
import type { LibraryRow } from '@plain-envoy/core/feed';
import { templateOf } from '@plain-envoy/core/model';
import { Subject } from 'rxjs';
import { Messages } from '../data/messages';
import { demo, deviceNamed, pageOf, textOf, typeInto } from '../testing.spec-helper';
import { LibraryView } from './library-view';

const template = templateOf(demo, deviceNamed('Plant meter').id);
const row = (id: string, name: string, more: Partial<LibraryRow> = {}): LibraryRow => ({
  id,
  name,
  version: 2,
  points: 12,
  note: '',
  identification: noIdentification,
  atMs: 1,
  by: null,
  ...more,
});

describe('LibraryView', () => {
  let http: HttpTestingController;
  let fixture: ComponentFixture<LibraryView>;
  const list = (...rows: LibraryRow[]) => {
    http.expectOne({ method: 'GET', url: '/api/library' }).flush(rows);
    fixture.detectChanges();
  };
  const take = (...files: [name: string, text: string][]) => {
    const transfer = new DataTransfer();
    for (const [name, text] of files) transfer.items.add(new File([text], name));
    (fixture.componentInstance as unknown as { takeIn(files: FileList): void }).takeIn(transfer.files);
  };
  /** Files are read by the browser, in its own time. */
  const whenThere = async <Found>(look: () => Found | undefined): Promise<Found> => {
    for (;;) {
      fixture.detectChanges();
      const found = look();
      if (found !== undefined) return found;
      await new Promise((done) => setTimeout(done, 5));
    }
  };
  const posted = () => whenThere(() => http.match({ method: 'POST', url: '/api/library' })[0]);
  const alerted = () => whenThere(() => textOf(fixture, '[role=alert]') || undefined);

  beforeEach(() => {
    TestBed.configureTestingModule({ providers: [provideHttpClient(), provideHttpClientTesting()] });
    http = TestBed.inject(HttpTestingController);
    spyOn(TestBed.inject(Messages), 'say');
    fixture = TestBed.createComponent(LibraryView);
    fixture.detectChanges();
  });

  it('lists devices by their newest version, and finds them by name and note', () => {
    list(row('a', 'Plant meter', { by: 'Ada' }), row('b', 'Drive', { note: 'For fans' }));
    expect(textOf(fixture, 'tbody')).toMatch(/Plant meter\s+2\s+12[\s\S]*by Ada/);
    typeInto(fixture, 'input[name=search]', 'fans');
    expect(pageOf(fixture).querySelectorAll('tbody tr').length).toBe(1);
    typeInto(fixture, 'input[name=search]', 'pump');
    expect(textOf(fixture, 'tbody')).toContain('No device here has “pump” in its name or note.');
  });

  it('takes files in: a new device, the next version of one that is there, and says which is none', async () => {
    list(row('a', 'Plant meter'));
    const other = { ...template, device: { ...template.device, name: 'Another' } };
    take(['meter.json', JSON.stringify(template)], ['notes.json', '{}'], ['another.json', JSON.stringify(other)], ['photo.png', '']);
    const first = await posted();
    expect([first.request.body.as, first.request.body.template.device.name]).toEqual(['a', 'Plant meter']);
    first.flush({ id: 'a', version: 3 });
    list(row('a', 'Plant meter', { version: 3 }));
    const second = await posted();
    expect([second.request.body.as, second.request.body.template.device.name]).toEqual([null, 'Another']);
    second.flush({ id: 'b', version: 1 });
    fixture.detectChanges();
    expect(textOf(fixture, '[role=alert]')).toContain('notes.json: This file is no saved device');
    http.expectOne({ method: 'GET', url: '/api/library' });
  });

  it('says so where there is none among the files', async () => {
    list();
    take(['photo.png', '']);
    expect(await alerted()).toContain('There is no saved device among these files');
  });

  it('deletes by key, and takes back what was deleted', () => {
    list(row('a', 'Plant meter'));
    const action = new Subject<void>();
    spyOn(TestBed.inject(Messages), 'offer').and.returnValue(action);
    pageOf(fixture)
      .querySelector('tbody tr')!
      .dispatchEvent(new KeyboardEvent('keydown', { key: 'Delete', bubbles: true, cancelable: true }));
    http.expectOne('/api/library/a/versions/2').flush(template);
    http.expectOne({ method: 'DELETE', url: '/api/library/a' }).flush({});
    action.next();
    expect(http.expectOne({ method: 'POST', url: '/api/library' }).request.body).toEqual({ template, as: null });
  });
});
