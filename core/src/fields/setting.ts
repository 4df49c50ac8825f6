import { good } from '../outcome/index.js';
import type { FieldDefinition } from './definition.js';

/** How a setting is written of which nobody has said yet what it shall be. */
const OPEN = '?';

export const setting: FieldDefinition<'setting'> = {
  name: 'setting',
  headers:
    /^(wanted|wanted value|value wanted|set to|setting|setting value|to be set|set value|parameter value|einstellung|eingestellt|einzustellen|r[eé]glage|ajuste|impostazione)$/,
  content: null,
  speaksOf: ['setting'],
  take: ({ cell, draft }) => {
    draft.setting = settingOf(cell('setting'));
  },
  cell: {
    label: 'Wanted',
    characters: 8,
    isShown: false,
    isCode: false,
    text: ({ setting: own }) => textOf(own),
    type: (_, text) => good({ fields: { setting: settingOf(text) } }),
  },
  csv: { head: 'wanted', text: ({ setting: own }) => textOf(own) },
};

function settingOf(text: string): { wanted: string | null } | null {
  if (!text.trim()) return null;
  return { wanted: text.trim() === OPEN ? null : text };
}

function textOf(own: { wanted: string | null } | null): string {
  return own ? (own.wanted ?? OPEN) : '';
}
