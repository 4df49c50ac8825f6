import { deviceNamed, demo, pageOf, pressKey, type Stage, stage } from '../../testing.spec-helper';
import { Bank } from './bank';

const controller = deviceNamed('Kiln controller');
const points = demo.points.filter(({ deviceId }) => deviceId === controller.id).slice(0, 30);

describe('Bank', () => {
  let on: Stage;

  beforeEach(async () => {
    on = await stage([]);
  });

  it('keeps the keyboard on its lane when lanes are drawn anew, and leaves it where somebody took it', () => {
    const window = { first: 0, last: 10 };
    const bank = on.show(Bank, { device: controller, lanes: points, side: 'destination', window, chosen: new Set<string>() });
    const page = pageOf(bank);
    document.body.append(page);
    const lane = () => (document.activeElement as HTMLElement | null)?.dataset?.['point'];
    page.querySelector<HTMLElement>('[tabindex="0"]')!.focus();
    pressKey(document.activeElement!, 'End');
    bank.detectChanges();
    expect(lane()).toBe(points.at(-1)!.id);
    bank.componentRef.setInput('lanes', [...points].reverse());
    bank.detectChanges();
    expect(lane()).withContext('in another order').toBe(points[0]!.id);
    bank.componentRef.setInput('window', { first: 18, last: 29 });
    bank.detectChanges();
    expect(lane()).withContext('scrolled to').toBe(points[0]!.id);
    (document.activeElement as HTMLElement).blur();
    document.body.dispatchEvent(new Event('pointerdown', { bubbles: true }));
    bank.componentRef.setInput('lanes', points);
    bank.detectChanges();
    expect(document.activeElement).toBe(document.body);
  });
});
