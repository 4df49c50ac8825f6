import { DestroyRef, inject, type Signal, signal } from '@angular/core';

/** A colour as a canvas takes it: `var()` and `light-dark()` are worked out by the browser, near an element of the page. */
export function paintOf(colour: string, near: HTMLElement): string {
  const probe = document.createElement('span');
  probe.style.color = colour;
  near.append(probe);
  const { color } = getComputedStyle(probe);
  probe.remove();
  return color;
}

/** Changes with the theme of the page, so that what is painted on a canvas can be painted anew. Called while a component is made. */
export function themeChanges(): Signal<number> {
  const changes = signal(0);
  const change = () => changes.update((count) => count + 1);
  const themes = new MutationObserver(change);
  themes.observe(document.documentElement, { attributes: true });
  const system = matchMedia('(prefers-color-scheme: dark)');
  system.addEventListener('change', change);
  inject(DestroyRef).onDestroy(() => {
    themes.disconnect();
    system.removeEventListener('change', change);
  });
  return changes.asReadonly();
}
