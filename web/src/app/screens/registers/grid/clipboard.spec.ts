import { pastedLines, quoted } from './clipboard';

describe('The clipboard of the grid', () => {
  it('keeps a cell together, whatever is in it', () => {
    expect([quoted('W40'), quoted('two\nlines'), quoted('a\tb'), quoted('5" pipe')]).toEqual([
      'W40',
      '"two\nlines"',
      '"a\tb"',
      '"5"" pipe"',
    ]);
  });

  it('takes lines for a column, and a table only to be looked at first', () => {
    expect(pastedLines('  \n', true)).toBeNull();
    expect(pastedLines('12.5\r\n13\r\n', true)).toEqual({ lines: ['12.5', '13'], isTable: false });
    expect(pastedLines('12.5\n13', false)?.isTable).withContext('into no column').toBeTrue();
    expect(pastedLines('Flow, main line', true)).toEqual({ lines: ['Flow, main line'], isTable: false });
    for (const table of ['Flow\t40001', 'Flow; 40001\nLevel; 40002', 'Flow   40001\nLevel  40002'])
      expect(pastedLines(table, true)?.isTable).withContext(table).toBeTrue();
  });
});
