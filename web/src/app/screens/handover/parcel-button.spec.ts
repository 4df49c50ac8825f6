import type { ComponentFixture } from '@angular/core/testing';
import { BehaviorSubject, Subject } from 'rxjs';
import type { MadeFile } from '../../data/made-file';
import { Parcels } from '../../data/parcels';
import { pageOf, stage, textOf, turn } from '../../testing.spec-helper';
import { ParcelButton } from './parcel-button';

class FakeParcels {
  readonly progress$ = new BehaviorSubject<{ kind: 'progress'; done: number; total: number } | null>(null);
  readonly problem$ = new BehaviorSubject<string | null>(null);
  readonly isRunning$ = new BehaviorSubject(false);
  readonly made$ = new Subject<MadeFile>();
  readonly asked: string[] = [];
  make = () => this.asked.push('make');
  stop = () => this.asked.push('stop');
}

describe('The parcel, on Handover', () => {
  let parcels: FakeParcels;
  let view: ComponentFixture<ParcelButton>;
  const click = (name: string) => pageOf(view).querySelector<HTMLElement>(`button[name=${name}]`)!.click();
  const drawn = async () => {
    await turn();
    view.detectChanges();
  };
  beforeEach(async () => {
    parcels = new FakeParcels();
    view = (await stage([{ provide: Parcels, useValue: parcels }])).show(ParcelButton);
  });

  it('is made, says how far it is, and can be stopped', async () => {
    click('parcel');
    parcels.isRunning$.next(true);
    await drawn();
    expect(textOf(view, '[role=status]')).toBe('The parcel is packed: 0 %');
    parcels.progress$.next({ kind: 'progress', done: 36, total: 144 });
    await drawn();
    expect(textOf(view, '[role=status]')).toBe('The parcel is packed: 25 %');
    click('stop-parcel');
    expect(parcels.asked).toEqual(['make', 'stop']);
  });

  it('says why it was not made, and is given away where it was', async () => {
    parcels.problem$.next('The book takes too long.');
    await drawn();
    expect(textOf(view, '[role=alert]')).toBe('The book takes too long.');
    const given: string[] = [];
    spyOn(HTMLAnchorElement.prototype, 'click').and.callFake(function (this: HTMLAnchorElement) {
      given.push(this.download);
    });
    parcels.made$.next({ name: 'Mill.zip', blob: new Blob(['x']) });
    expect(given).toEqual(['Mill.zip']);
  });
});
