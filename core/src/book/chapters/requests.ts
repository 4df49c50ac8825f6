import { requestSheets, type SheetRow } from '../../plan/index.js';
import { section, table, words } from '../content.js';
import { defineChapter } from '../definition.js';

/** The requests of each carrier, as they are typed into its package, and what its program does with them. */
export const requests = defineChapter({
  chapter: 'requests',
  make: ({ file: { document }, plan, isIn }) => {
    const asked = new Map(plan.requests.map(({ id, deviceId }) => [id, deviceId]));
    const sheets = requestSheets(document, plan)
      .map((sheet) => ({ ...sheet, rows: sheet.rows.filter(({ requestId }) => isIn(asked.get(requestId) ?? '')) }))
      .filter(({ rows }) => rows.length > 0);
    return {
      blocks: sheets.length ? [] : [words('Nothing is carried yet.')],
      sections: sheets.map(({ carrier, entry, rows }) =>
        section(carrier, [
          words(entry),
          table<SheetRow>(
            '',
            [
              { head: 'No.', of: ({ number }) => number, isNumber: true, weight: 0.5 },
              { head: 'Connection', of: ({ connection }) => connection, weight: 2 },
              { head: 'Unit', of: ({ unitId }) => unitId, isNumber: true, weight: 0.5 },
              { head: 'Device', of: ({ device }) => device, weight: 2 },
              { head: 'Function', of: ({ functionCode, functionName }) => `${functionCode} ${functionName}`, weight: 1.7 },
              { head: 'Start', of: ({ start }) => start, isNumber: true, weight: 0.8 },
              { head: 'On the wire', of: ({ offset }) => offset, isNumber: true, weight: 0.8 },
              { head: 'Count', of: ({ count }) => count, isNumber: true, weight: 0.7 },
              {
                head: 'Local',
                of: ({ local }) => (local ? (local.first === local.last ? local.first : `${local.first} to ${local.last}`) : ''),
                weight: 1.5,
              },
              { head: 'Trigger', of: ({ trigger }) => trigger, weight: 1.7 },
              { head: 'Timeout, tries', of: ({ timeoutMs, tries }) => `${timeoutMs} ms, ${tries}` },
              { head: 'On the line, ms', of: ({ expectedMs }) => expectedMs, isNumber: true, weight: 0.7 },
            ],
            rows,
          ),
          table<SheetRow>(
            'Work of the program',
            [
              { head: 'No.', of: ({ number }) => number, isNumber: true, weight: 0.3 },
              { head: 'What is done with its registers', of: ({ local }) => local?.work.join('; ') ?? '', weight: 8 },
            ],
            rows.filter(({ local }) => (local?.work.length ?? 0) > 0),
          ),
        ]),
      ),
    };
  },
});
