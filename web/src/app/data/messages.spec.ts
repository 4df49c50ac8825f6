import { TestBed } from '@angular/core/testing';
import { Messages } from './messages';

describe('Messages', () => {
  const shown = async (text: string) => {
    for (const end = Date.now() + 5000; Date.now() < end; await new Promise((done) => setTimeout(done, 20))) {
      const found = [...document.querySelectorAll('mat-snack-bar-container')].find((one) => one.textContent!.includes(text));
      if (found) return found;
    }
    throw new Error(`“${text}” was not shown.`);
  };

  it('are shown, and what can be done about one is told when somebody wants it', async () => {
    let wanted = 0;
    TestBed.inject(Messages)
      .offer('Mill was deleted.', 'Take back')
      .subscribe(() => (wanted += 1));
    (await shown('Mill was deleted.')).querySelector('button')!.click();
    expect(wanted).toBe(1);
    TestBed.inject(Messages).keep('It ran on.');
    expect((await shown('It ran on.')).querySelector('button')!.textContent).toContain('Close');
  });
});
