import { type At, mistake } from './problem.js';

export function wholeOf(image: string): bigint {
  return BigInt(image.replaceAll('_', ''));
}

export function realOf(image: string): number {
  return Number(image.replaceAll('_', ''));
}

/** `16#FF` */
export function basedOf(image: string, at: At): bigint {
  const [base, digits] = image.replaceAll('_', '').toUpperCase().split('#') as [string, string];
  const prefix = { '2': '0b', '8': '0o', '16': '0x' }[base]!;
  const most = { '2': '1', '8': '7', '16': 'F' }[base]!;
  if ([...digits].some((digit) => digit > most)) mistake(at, `${image} has a digit that base ${base} does not have.`);
  return BigInt(prefix + digits);
}

const ESCAPES: Readonly<Record<string, string>> = { $: '$', "'": "'", L: '\n', N: '\n', P: '\f', R: '\r', T: '\t' };

/** `'text$R'`, with its escapes resolved (edition 3, table 7). */
export function textOf(image: string, at: At): string {
  const inner = image.slice(1, -1);
  return inner.replaceAll(/\$([\dA-F]{2}|.)/gi, (_whole, code: string) => {
    if (code.length === 2) return String.fromCharCode(Number.parseInt(code, 16));
    return (
      ESCAPES[code.toUpperCase()] ?? mistake(at, `$${code} stands for nothing. After $ comes $, ', L, N, P, R, T, or two digits like 0D.`)
    );
  });
}

const UNITS_MS: Readonly<Record<string, number>> = { d: 86_400_000, h: 3_600_000, m: 60_000, s: 1000, ms: 1, us: 0.001, ns: 0.000001 };

/** `T#1s500ms` in ms. */
export function durationOf(image: string, at: At): number {
  const given = image
    .slice(image.indexOf('#') + 1)
    .toLowerCase()
    .replaceAll('_', '');
  const unsigned = given.replace(/^[+-]/, '');
  const parts = [...unsigned.matchAll(/([\d.]+)(ms|us|ns|[dhms])/gy)];
  const isWhole = parts.map(([whole]) => whole).join('') === unsigned && parts.every(([, number]) => /^\d+(?:\.\d+)?$/.test(number!));
  if (parts.length === 0 || !isWhole) mistake(at, `${image} is no time. Times are written like T#1s500ms.`);
  const ms = parts.reduce((sum, [, number, unit]) => sum + Number(number) * UNITS_MS[unit!]!, 0);
  return given.startsWith('-') ? -ms : ms;
}

/** As it is written in a program. */
export function durationText(ms: number): string {
  const units = [
    ['d', 86_400_000],
    ['h', 3_600_000],
    ['m', 60_000],
    ['s', 1000],
  ] as const;
  let rest = Math.abs(ms);
  const parts = units.flatMap(([unit, size]) => {
    const count = Math.floor(rest / size);
    rest -= count * size;
    return count ? [`${count}${unit}`] : [];
  });
  const fraction = Math.round(rest * 1_000_000) / 1_000_000;
  if (fraction || parts.length === 0) parts.push(`${fraction}ms`);
  return `T#${ms < 0 ? '-' : ''}${parts.join('')}`;
}
