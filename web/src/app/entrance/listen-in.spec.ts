import type { ComponentFixture } from '@angular/core/testing';
import { TestBed } from '@angular/core/testing';
import { MatDialogRef } from '@angular/material/dialog';
import type { ListenEvent } from '@plain-envoy/core/feed';
import { of, Subject, throwError } from 'rxjs';
import { Api, Refused } from '../data/api';
import { Projects } from '../data/projects';
import { Recordings } from '../data/recordings';
import { pageOf, submit, textOf, typeInto } from '../testing.spec-helper';
import { ListenIn } from './listen-in';

describe('ListenIn', () => {
  let heard: Subject<ListenEvent>;
  let asked: [path: string, body: unknown][];
  let recorded: Promise<string>[];
  let closed: unknown[];
  let refuses: Refused | null;
  let dialog: ComponentFixture<ListenIn>;

  beforeEach(() => {
    jasmine.clock().install();
    [heard, asked, recorded, closed, refuses] = [new Subject(), [], [], [], null];
    const api = {
      get: () => of({ ok: true, value: [{ path: '/dev/ttyUSB0', about: 'Adapter' }] }),
      stream: (path: string, body: unknown) => {
        asked.push([path, body]);
        return refuses ? throwError(() => refuses) : heard;
      },
    };
    const recordings = {
      maps: () => of([]),
      listen: (blob: Blob) => {
        recorded.push(blob.text());
        const told = { exchanges: 2, lastedMs: 400, devices: 1, points: 4, remarks: [], requests: [] };
        return of({ kind: 'heard', file: '{"document":{"project":{"name":"x"}}}', ...told });
      },
    };
    const projects = {
      takeIn: (blob: Blob) => {
        recorded.push(blob.text());
        return of({ kind: 'done', id: 'made', name: 'Heard' });
      },
    };
    TestBed.configureTestingModule({
      providers: [
        { provide: Api, useValue: api },
        { provide: Recordings, useValue: recordings },
        { provide: Projects, useValue: projects },
        { provide: MatDialogRef, useValue: { close: (result: unknown) => closed.push(result) } },
      ],
    });
    dialog = TestBed.createComponent(ListenIn);
    dialog.detectChanges();
  });
  afterEach(() => jasmine.clock().uninstall());
  const press = (name: string) => {
    pageOf(dialog).querySelector<HTMLElement>(`button[name=${name}]`)!.click();
    dialog.detectChanges();
  };
  const begin = () => {
    pageOf(dialog)
      .querySelector('form')!
      .dispatchEvent(new Event('submit', { cancelable: true }));
    dialog.detectChanges();
  };

  it('listens with the settings of the line, and grows a proposal while it goes on', async () => {
    expect(textOf(dialog)).toContain('This machine has /dev/ttyUSB0 (Adapter).');
    typeInto(dialog, 'input[name=path]', ' /dev/ttyUSB0 ');
    typeInto(dialog, 'input[name=second]', '/dev/ttyUSB1');
    typeInto(dialog, 'input[name=baud]', '9600');
    begin();
    expect(asked).toEqual([
      ['machine/listen', { paths: ['/dev/ttyUSB0', '/dev/ttyUSB1'], settings: { baud: 9600, dataBits: 8, parity: 'even', stopBits: 1 } }],
    ]);
    expect(textOf(dialog, '.quiet[aria-live]')).toContain('Nothing is heard yet');
    heard.next({ kind: 'heard', port: 0, atMs: 1000, hex: '0103' });
    heard.next({ kind: 'heard', port: 1, atMs: 1012.5, hex: '01' });
    jasmine.clock().tick(2000);
    dialog.detectChanges();
    expect(textOf(dialog, '.quiet[aria-live]')).toBe('3 bytes heard');
    expect(textOf(dialog, 'pe-heard')).toContain('2 exchanges in 0 s: 0 questions to 1 device, 4 points.');
    press('stop');
    begin();
    heard.next({ kind: 'heard', port: 0, atMs: 5, hex: 'ff' });
    jasmine.clock().tick(2000);
    jasmine.clock().uninstall();
    expect((await Promise.all(recorded)).map((text) => text.trim().split('\n'))).toEqual([
      ['1.000000 01 03', '1.012500 01'],
      ['1.000000 01 03', '1.012500 01', '3.017500 ff'],
    ]);
    typeInto(dialog, 'input[name=name]', 'Old plant');
    press('make');
    expect(closed).toEqual(['made']);
    expect(await recorded.at(-1)).toContain('"name":"Old plant"');
    expect(heard.observed).withContext('it does not listen any more').toBeFalse();
  });

  it('says at its field what does not fit, and keeps what was heard when the port fails', async () => {
    jasmine.clock().uninstall();
    refuses = new Refused({ message: 'Say which serial port.', path: ['paths', 0] });
    await submit(dialog);
    expect(textOf(dialog, 'mat-error')).toBe('Say which serial port.');
    refuses = null;
    typeInto(dialog, 'input[name=path]', '/dev/ttyUSB0');
    begin();
    heard.next({ kind: 'heard', port: 0, atMs: 1, hex: '01' });
    heard.next({ kind: 'failed', sentence: '/dev/ttyUSB0 was closed.' });
    heard.complete();
    dialog.detectChanges();
    expect(textOf(dialog, '.problem')).toBe('/dev/ttyUSB0 was closed.');
    expect(textOf(dialog, 'button[name=listen]')).toBe('Listen on');
    press('anew');
    expect(textOf(dialog, 'button[name=listen]')).toBe('Listen');
  });
});
