import { besideLine } from './beside-lines';

describe('What stands beside a line', () => {
  const values = { speed: 41.23456789, Status_word: 5, on: true, t1: { Q: false, ET: 1500 }, total: '123', name: 'Batch', a: [1, 2, 3] };

  it('is what the variables hold that the line gives a value or calls', () => {
    expect(besideLine('  speed := 5.0;', values)).toBe('41.2346');
    expect(besideLine('Speed := 5.0;', values)).toBe('41.2346');
    expect(besideLine('IF x THEN on := TRUE; speed := 3; END_IF;', values)).toBe('on = TRUE, speed = 41.2346');
    expect(besideLine('Status_word.2 := on;', values)).toBe('TRUE');
    expect(besideLine('t1(IN := on);', values)).toBe('(Q FALSE, ET 1500)');
    expect(besideLine("name := ''; total := 3; a := b;", values)).toBe("name = 'Batch', total = 123, a = [1, 2, 3]");
  });

  it('is nothing where the line gives none, or in a remark', () => {
    expect(besideLine('IF speed > 3 THEN', values)).toBe('');
    expect(besideLine('(* speed := 3; *)', values)).toBe('');
    expect(besideLine('x := 1; // speed := 3', values)).toBe('');
  });
});
