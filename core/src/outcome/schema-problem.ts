import type { z } from 'zod';
import type { Problem } from './outcome.js';

/** The first thing that a schema found wrong, as a sentence with its path. Messages written in a schema are kept as they are. */
export function schemaProblem(error: z.ZodError): Problem {
  const issue = deepest(error.issues[0]!);
  const path = issue.path.map((part) => (typeof part === 'symbol' ? String(part) : part));
  return { message: sentence(issue, path), path };
}

/** Of a choice between shapes, the shape that the input came nearest to: the one whose complaint lies deepest. */
function deepest(issue: z.core.$ZodIssue): z.core.$ZodIssue {
  if (issue.code !== 'invalid_union' || issue.errors.length === 0) return issue;
  const inner = issue.errors
    .map((issues) => issues[0])
    .filter((candidate) => candidate !== undefined)
    .sort((a, b) => b.path.length - a.path.length)[0];
  return inner && inner.path.length > 0 ? deepest({ ...inner, path: [...issue.path, ...inner.path] }) : issue;
}

function sentence(issue: z.core.$ZodIssue, path: (string | number)[]): string {
  const field = path.at(-1) === undefined ? 'The input' : `“${path.at(-1)}”`;
  if (issue.code === 'unrecognized_keys') return `There is no field “${issue.keys[0]}” here.`;
  if (!issue.message.startsWith('Invalid ')) return issue.message;
  if (issue.code === 'invalid_type') {
    return issue.message.endsWith('received undefined') ? `${field} is missing.` : `${field} must be of type ${issue.expected}.`;
  }
  if (issue.code === 'invalid_value') return `${field} must be one of: ${issue.values.join(', ')}.`;
  return `${field} does not fit: ${issue.message.replace(/^Invalid \w+:? ?/, '') || 'not one of the shapes that are allowed'}.`;
}
