import type { ComponentFixture } from '@angular/core/testing';
import { TestBed } from '@angular/core/testing';
import { Router } from '@angular/router';
import { DEMO_ID } from '@plain-envoy/core/model';
import { demo, pageOf, stage, textOf, turn } from '../testing.spec-helper';
import { Tour } from './tour';
import { TourCard } from './tour-card';

describe('The tour', () => {
  let card: ComponentFixture<TourCard>;
  let tour: Tour;
  const went: unknown[] = [];
  const press = async (name: string) => {
    pageOf(card).querySelector<HTMLElement>(`button[name=tour-${name}]`)!.click();
    await settle();
  };
  const settle = async () => {
    for (let turns = 0; turns < 3; turns++) {
      card.detectChanges();
      await turn();
    }
    card.detectChanges();
  };
  beforeEach(async () => {
    localStorage.removeItem('plain-envoy tour');
    went.length = 0;
    const on = await stage();
    spyOn(TestBed.inject(Router), 'navigate').and.callFake((path) => Promise.resolve(went.push(path[0]) > 0));
    tour = TestBed.inject(Tour);
    card = on.show(TourCard);
  });
  afterEach(() => localStorage.removeItem('plain-envoy tour'));

  it('is about the demo', () => expect(demo.project.id).toBe(DEMO_ID));

  it('is offered until it was taken or declined once, and never again unasked', () => {
    expect(tour.isOffered()).toBeTrue();
    tour.decline();
    expect([tour.isOffered(), tour.at()]).toEqual([false, null]);
    expect(TestBed.runInInjectionContext(() => new Tour()).isOffered()).toBeFalse();
    tour.begin();
    expect(tour.at()).toBe(0);
  });

  it('goes through five screens, forth and back, with the keyboard on what goes on', async () => {
    expect(textOf(card)).toBe('');
    tour.begin();
    await settle();
    expect(textOf(card, 'h2')).toBe('1 of 5: The plant');
    expect((document.activeElement as HTMLButtonElement).name).toBe('tour-next');
    await press('next');
    await press('next');
    await press('back');
    expect(textOf(card, 'h2')).toBe('2 of 5: A line and a fault');
    for (let step = 0; step < 4; step++) await press('next');
    expect([tour.at(), textOf(card)]).toEqual([null, '']);
    expect(went).toEqual(['/site', '/lines', '/registers', '/lines', '/registers', '/routes', '/bench']);
  });

  it('can be left at any time', async () => {
    tour.begin();
    await settle();
    pageOf(card)
      .querySelector('section')!
      .dispatchEvent(new KeyboardEvent('keydown', { key: 'Escape' }));
    await settle();
    expect([tour.at(), textOf(card)]).toEqual([null, '']);
  });
});
