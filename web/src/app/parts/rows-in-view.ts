import { afterNextRender, computed, DestroyRef, ElementRef, inject, signal, type Signal } from '@angular/core';

/** Every row of such a table is this high. */
export const ROW_PX = 28;
const SPARE_ROWS = 8;

/**
 * The rows of a long table that can be seen, and a few more on both sides: only those are drawn. `above` and `below` are the
 * heights in pixels of what is left out. To be made while a component is built that draws one table with rows of `ROW_PX`.
 */
export function rowsInView<T>(rows: () => readonly T[]): Signal<{ rows: readonly T[]; above: number; below: number }> {
  const host = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
  const destroyed = inject(DestroyRef);
  /** What is seen of the table’s body, from its top. */
  const seen = signal({ from: 0, height: 600 });
  afterNextRender(() => {
    const body = host.querySelector('tbody');
    const scroller = body && scrollerOf(body);
    if (!scroller) return;
    const look = () => {
      const from = scroller.getBoundingClientRect().top - host.querySelector('tbody')!.getBoundingClientRect().top;
      seen.set({ from: Math.max(0, from), height: scroller.clientHeight });
    };
    const observer = new ResizeObserver(look);
    observer.observe(scroller);
    scroller.addEventListener('scroll', look, { passive: true });
    destroyed.onDestroy(() => {
      observer.disconnect();
      scroller.removeEventListener('scroll', look);
    });
  });
  return computed(() => {
    const { from, height } = seen();
    const all = rows();
    const most = Math.ceil(height / ROW_PX) + 2 * SPARE_ROWS;
    const first = Math.min(Math.max(0, Math.floor(from / ROW_PX) - SPARE_ROWS), Math.max(0, all.length - most));
    const last = Math.min(all.length, first + most);
    return { rows: all.slice(first, last), above: first * ROW_PX, below: (all.length - last) * ROW_PX };
  });
}

function scrollerOf(element: Element): HTMLElement | null {
  for (let at = element.parentElement; at; at = at.parentElement) if (/auto|scroll/.test(getComputedStyle(at).overflowY)) return at;
  return null;
}
