import type { Signal } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { distinctUntilChanged, map, type MonoTypeOperatorFunction, type Observable, shareReplay } from 'rxjs';

/** The states of a service by name: what it has as `document$` is `document` here. */
type StatesOf<Service> = {
  [Name in keyof Service & string as Name extends `${infer State}$` ? State : never]: Service[Name] extends Observable<infer T> ? T : never;
};

/** Signals of states of a service, for as long as the component is there that asks for them. */
export function atEdge<Service extends object, Name extends keyof StatesOf<Service> & string>(
  service: Service,
  ...names: Name[]
): { readonly [State in Name]: Signal<StatesOf<Service>[State]> } {
  const state = (name: string) => (service as Record<string, unknown>)[`${name}$`] as Observable<unknown>;
  const signals = names.map((name) => [name, toSignal(state(name), { requireSync: true })]);
  return Object.fromEntries(signals) as { readonly [State in Name]: Signal<StatesOf<Service>[State]> };
}

/** What a state comes to, worked out once for all who look, and told only where it is another than before. */
export function derived<From, To>(from: Observable<From>, work: (value: From) => To): Observable<To> {
  return from.pipe(map(work), replayed());
}

/** The last value for whoever comes later; nothing while nobody looks. */
export function replayed<T>(): MonoTypeOperatorFunction<T> {
  return (from) => from.pipe(distinctUntilChanged(), shareReplay({ bufferSize: 1, refCount: true }));
}
