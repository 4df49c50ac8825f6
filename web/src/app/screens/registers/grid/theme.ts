import { themeQuartz } from 'ag-grid-community';

/** The grid in paper and ink: all colours and fonts are those of the page. */
export const paperTheme = themeQuartz.withParams({
  browserColorScheme: 'inherit',
  backgroundColor: 'var(--mat-sys-surface-container-lowest)',
  foregroundColor: 'var(--mat-sys-on-surface)',
  textColor: 'var(--mat-sys-on-surface)',
  headerBackgroundColor: 'var(--mat-sys-surface-container-lowest)',
  headerTextColor: 'var(--mat-sys-on-surface-variant)',
  headerFontWeight: 600,
  accentColor: 'var(--pe-carried)',
  borderColor: 'var(--mat-sys-outline-variant)',
  wrapperBorderRadius: 0,
  borderRadius: 2,
  chromeBackgroundColor: 'var(--mat-sys-surface-container-lowest)',
  menuBackgroundColor: 'var(--mat-sys-surface-container-high)',
  selectedRowBackgroundColor: 'var(--mat-sys-primary-container)',
  rowHoverColor: 'color-mix(in srgb, var(--mat-sys-surface-container-highest) 45%, transparent)',
  oddRowBackgroundColor: 'transparent',
  fontFamily: 'inherit',
  fontSize: 13,
  cellHorizontalPadding: 8,
  spacing: 4,
  iconSize: 13,
});
