import { FormControl, type ValidatorFn } from '@angular/forms';

/** The control of something that is chosen or ticked. */
export function controlOf<T>(value: T): FormControl<T> {
  return new FormControl(value, { nonNullable: true }) as FormControl<T>;
}

/** The control of something that is typed, as text; what is not there, or is no number yet, stands as nothing. */
export function textControl(value: string | number | null, ...validators: ValidatorFn[]): FormControl<string> {
  const text = value === null || Number.isNaN(value) ? '' : String(value);
  return new FormControl(text, { nonNullable: true, validators });
}
