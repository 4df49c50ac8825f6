import type { Area } from '@plain-envoy/core/address';
import { pointOfVariable, readIecText, type Variable } from '@plain-envoy/core/format';
import { bad, good, type Outcome } from '@plain-envoy/core/outcome';
import { readIecXml } from '../iec-xml.js';
import type { Source, TextFormat } from './definition.js';

/** Variables as IEC 61131-10 exchanges them. */
export const iecXml: TextFormat = {
  isIn: (text) => text.trimStart().startsWith('<'),
  read: (text, encoding, areas) => pointsOf(readIecXml(text), `Variables in XML, ${encoding}`, areas),
};

/** A declaration in Structured Text (IEC 61131-3). */
export const iecText: TextFormat = {
  isIn: (text) => /\bVAR(?:_|\b)/i.test(text) && /\bEND_VAR\b/i.test(text),
  read: (text, encoding, areas) => pointsOf(readIecText(text), `A declaration of variables, ${encoding}`, areas),
};

function pointsOf(found: Outcome<(Variable & { line?: number })[]>, what: string, areas: readonly Area[]): Outcome<Source> {
  if (!found.ok) return bad(`${what}: ${found.problem.message}`);
  const entries = found.value.map((variable) => ({
    name: variable.name,
    line: variable.line ?? null,
    body: pointOfVariable(variable, areas),
  }));
  return good({ kind: 'points', what, remarks: [], entries });
}
