import { provideHttpClient } from '@angular/common/http';
import { provideHttpClientTesting } from '@angular/common/http/testing';
import { TestBed } from '@angular/core/testing';
import { MAT_DIALOG_DATA, MatDialogRef } from '@angular/material/dialog';
import type { TakeInEvent } from '@plain-envoy/core/feed';
import { of, Subject, throwError } from 'rxjs';
import { Refused } from '../data/api';
import type { ToldRecording } from '../data/overheard.worker';
import { Projects } from '../data/projects';
import { Recordings } from '../data/recordings';
import { submit, textOf, typeInto } from '../testing.spec-helper';
import { FromRecording } from './from-recording';

const heard: ToldRecording = {
  kind: 'heard',
  file: JSON.stringify({ format: 'plain-envoy project', document: { project: { name: 'x' } } }),
  ...{ exchanges: 400, lastedMs: 60_000, devices: 2, points: 9, remarks: ['One client asks.'] },
  requests: [
    {
      ...{ endpointId: '10.1.1.9:502', askedBy: '10.1.1.2', framing: 'tcp', unit: 3, functionCode: 3 },
      span: { table: 'holding', offset: 100, count: 5 },
      ...{ writes: false, seen: 60, periodMs: 1000.4, jitterMs: 2, answered: 57, silent: 2 },
      refused: new Map([[2, 1]]),
      responseMs: { usual: 12.34, longest: 40 },
    },
  ],
};

describe('A project from a recording', () => {
  const told = new Subject<ToldRecording>();
  let closed: unknown[];
  const shown = () => {
    closed = [];
    TestBed.configureTestingModule({
      providers: [
        ...[provideHttpClient(), provideHttpClientTesting()],
        { provide: MAT_DIALOG_DATA, useValue: new File([''], 'mill.pcapng') },
        { provide: MatDialogRef, useValue: { close: (with_: unknown) => closed.push(with_) } },
        { provide: Recordings, useValue: { maps: () => of([]), listen: () => told } },
      ],
    });
    const fixture = TestBed.createComponent(FromRecording);
    fixture.detectChanges();
    return fixture;
  };

  it('tells what was heard, and is made under the name that it is given', async () => {
    const fixture = shown();
    expect(textOf(fixture)).toContain('listened to');
    told.next(heard);
    fixture.detectChanges();
    expect(textOf(fixture)).toContain('400 exchanges in 60 s: 1 question to 2 devices, 9 points.');
    expect(textOf(fixture, '.remark')).toBe('One client asks.');
    expect(textOf(fixture, 'tbody')).toMatch(
      /3 read holding registers[\s\S]*100–104[\s\S]*1000 ms[\s\S]*57 of 60, 2 got no answer, 1 refused: .*in 12.3 ms/,
    );
    const takeIn = spyOn(TestBed.inject(Projects), 'takeIn').and.returnValue(of<TakeInEvent>({ kind: 'done', id: 'new', name: 'Mill' }));
    typeInto(fixture, 'input[name=name]', 'Mill street');
    await submit(fixture);
    const sent = JSON.parse(await takeIn.calls.mostRecent().args[0].text()) as { document: { project: { name: string } } };
    expect([sent.document.project.name, closed]).toEqual(['Mill street', ['new']] as never);
  });

  it('says why nothing can be made of a file, and what the server refused, and keeps what was typed', async () => {
    const fixture = shown();
    told.next({ kind: 'failed', sentence: 'No Modbus TCP is in this recording.' });
    fixture.detectChanges();
    expect(textOf(fixture, '[role=alert]')).toBe('mill.pcapng: No Modbus TCP is in this recording.');
    expect(fixture.nativeElement.querySelector('button[name=make]').disabled).toBeTrue();
    told.next(heard);
    fixture.detectChanges();
    spyOn(TestBed.inject(Projects), 'takeIn').and.returnValue(throwError(() => new Refused({ message: 'No room.', path: [] })));
    typeInto(fixture, 'input[name=name]', 'Mill street');
    await submit(fixture);
    fixture.detectChanges();
    expect(textOf(fixture, '[role=alert]')).toContain('No room.');
    expect(fixture.nativeElement.querySelector('input[name=name]').value).toBe('Mill street');
    expect(closed).toEqual([]);
  });
});
