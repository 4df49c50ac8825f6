import type { Check, Scope } from '../findings/index.js';
import { checks } from './list.js';

const headings: Record<Scope, string> = {
  serial: 'Serial lines and their cables',
  ethernet: 'Networks',
  can: 'CAN buses',
  telecontrol: 'Telecontrol lines',
  map: 'Register maps',
  converter: 'Converters and their images',
  telegram: 'Telegrams',
  frames: 'Frames on CAN',
  cyclic: 'Cyclic links',
  link: 'Blocks of cyclic links',
  stations: 'Points of telecontrol stations',
  errand: 'Errands',
  ends: 'The two ends of a route',
  names: 'What a route names',
  route: 'Routes by themselves',
  value: 'The value that a route carries',
  plan: 'Routes together',
  requests: 'All that is asked',
};

/** All that can be found, each with what it means, as a page in Markdown. `docs/findings.md` is this text. */
export function checksPage(): string {
  const all = checks as readonly Check[];
  const scopes = [...new Set(all.map(({ scope }) => scope))];
  const tables = scopes.map((scope) => {
    const rows = all.filter((check) => check.scope === scope).map(({ id, severity, meaning }) => `| ${id} | ${severity} | ${meaning} |`);
    return [`## ${headings[scope]}`, '', '| finding | severity | what it means |', '| --- | --- | --- |', ...rows, ''].join('\n');
  });
  return `# Findings\n\nA *stop* keeps what it is about from running; a *warning* or *advice* does not. Made from the code by \`npm run formats\`.\n\n${tables.join('\n')}`;
}
