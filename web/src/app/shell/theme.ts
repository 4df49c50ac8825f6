import { Injectable, signal } from '@angular/core';

export const themes = ['system', 'light', 'dark'] as const;
export type Theme = (typeof themes)[number];
const KEY = 'plain-envoy-theme';

/** Light, dark, or as the machine has it; remembered in this browser. */
@Injectable({ providedIn: 'root' })
export class ThemeChoice {
  readonly theme = signal<Theme>(themes.find((theme) => theme === localStorage.getItem(KEY)) ?? 'system');

  constructor() {
    this.show();
  }

  next(): void {
    this.set(themes[(themes.indexOf(this.theme()) + 1) % themes.length]!);
  }

  set(theme: Theme): void {
    this.theme.set(theme);
    localStorage.setItem(KEY, theme);
    this.show();
  }

  private show(): void {
    const theme = this.theme();
    document.documentElement.style.colorScheme = theme === 'system' ? 'light dark' : theme;
  }
}
