import { newCounters } from '@plain-envoy/core/feed';
import { TestBed } from '@angular/core/testing';
import { Router } from '@angular/router';
import { demo, deviceNamed, frames, pageOf, stage, textOf, type Stage, turn } from '../../testing.spec-helper';
import { SiteScreen } from './site';

describe('SiteScreen', () => {
  it('says of each device how it answers, and shows what is the trouble', async () => {
    const on = await stage();
    const [silent, sound] = [deviceNamed('Air-on transmitter'), deviceNamed('Fan drive north')];
    on.live.devices.take([{ ...newCounters(silent.id), lastOutcome: 'no answer', lastError: 'Nobody answered.' }]);
    on.live.devices.take([{ ...newCounters(sound.id), lastOutcome: 'answered', answered: 9 }]);
    const site = on.show(SiteScreen);
    const card = (name: string) =>
      [...(site.nativeElement as HTMLElement).querySelectorAll<HTMLElement>('.device')].find((element) => element.innerText.includes(name))!
        .innerText;
    expect(card('Air-on transmitter')).toContain('no answer');
    expect(card('Fan drive north')).toContain('answers');
    expect(card('Kiln gateway')).toContain('passes on');
    expect(card('Kiln controller')).toContain('not asked');
    expect(textOf(site, 'p.trouble')).toBe('Nobody answered.');
    expect(textOf(site, 'a.trouble')).toContain('Fan drive south is set to 19200 8N1');
  });

  describe('as a drawing', () => {
    let on: Stage;
    const of = (host: { nativeElement: unknown }, selector: string) => [
      ...(host.nativeElement as HTMLElement).querySelectorAll<HTMLElement>(selector),
    ];
    beforeEach(async () => (on = await stage()));

    it('has every line with what it is, and every device at its place on it', () => {
      const site = on.show(SiteScreen);
      expect(
        of(site, '.line-name strong')
          .map(({ innerText }) => innerText)
          .sort(),
      ).toEqual(demo.lines.map(({ name }) => name).sort());
      expect(textOf(site, '.line-name')).toContain('19200 8E1');
      const hung = new Set(demo.ports.map(({ deviceId }) => deviceId));
      expect(new Set(of(site, '.device').map(({ title }) => title))).toEqual(
        new Set(demo.devices.filter(({ id }) => hung.has(id)).map(({ name }) => name)),
      );
      expect(textOf(site, '.screen-head')).toMatch(/8 lines, \d+ devices, \d+ points, 125 routes · \d+ requests a second planned/);
      expect(textOf(site, '.busy')).toMatch(/\d+ % busy/);
    });

    it('says nothing of health while the bench is stopped, and where to run it', () => {
      on.live.running$.next(false);
      const site = on.show(SiteScreen);
      expect(of(site, '.word').every(({ innerText }) => innerText === '')).toBeTrue();
      expect(textOf(site)).toContain('The bench is stopped. Run it (top right) to see who answers.');
      expect(of(site, '.rate')).toEqual([]);
    });

    it('says of a device that only sends text whether that arrives', () => {
      const [indicator, valid] = [deviceNamed('Weigh indicator'), demo.points.find(({ name }) => name === 'Weighing is valid')!];
      const wordOf = (site: Parameters<typeof of>[0]) =>
        of(site, '.device')
          .find(({ title }) => title === indicator.name)!
          .querySelector<HTMLElement>('.word')!.innerText;
      const site = on.show(SiteScreen);
      expect(wordOf(site)).toBe('not read');
      for (const [word, says] of [
        [1, 'sends'],
        [0, 'no telegram'],
      ] as const) {
        on.live.points.take([{ pointId: valid.id, words: [word], quality: 'good', reason: null, atMs: 1 }]);
        site.detectChanges();
        expect(wordOf(site)).toBe(says);
      }
    });

    it('shows how many exchanges a line carries, by what its devices do', () => {
      for (const name of ['Fan drive north', 'Air-on transmitter']) on.live.rates.set(deviceNamed(name).id, 2);
      const site = on.show(SiteScreen);
      expect(textOf(site, '.rate')).toBe('4 / s');
    });

    it('draws where the values of a device go while it is pointed at, by mouse or by keyboard', () => {
      const site = on.show(SiteScreen);
      const card = of(site, '.device').find(({ title }) => title === 'Air-on transmitter')!;
      const shown = () => (site.detectChanges(), of(site, '.ribbon-text').map(({ textContent }) => textContent));
      expect(shown()).toEqual([]);
      for (const [into, out] of [
        ['mouseenter', 'mouseleave'],
        ['focus', 'blur'],
      ] as const) {
        card.dispatchEvent(new Event(into));
        expect(shown().length).withContext(into).toBeGreaterThan(0);
        card.dispatchEvent(new Event(out));
        expect(shown()).withContext(out).toEqual([]);
      }
    });

    it('names a ribbon that is pointed at, and shows what it carries when it is clicked', async () => {
      const navigate = spyOn(TestBed.inject(Router), 'navigate').and.resolveTo(true);
      const [controller, drive] = [deviceNamed('Kiln controller'), deviceNamed('Fan drive north')];
      const site = on.show(SiteScreen, { from: controller.id, to: drive.id });
      const ribbon = of(site, `[data-ribbon="${drive.id} ${controller.id}"]`)[0]!;
      ribbon.dispatchEvent(new Event('mouseenter'));
      site.detectChanges();
      expect(of(site, '.ribbon-text.name').map(({ textContent }) => textContent?.trim())).toEqual([
        jasmine.stringMatching(/^Fan drive north ⟶ Kiln controller · 5 routes · /),
      ]);
      ribbon.dispatchEvent(new Event('mouseleave'));
      ribbon.dispatchEvent(new Event('click'));
      expect(navigate).toHaveBeenCalledWith([], { queryParams: { from: drive.id, to: controller.id } });
      await turn();
      site.detectChanges();
      const routes = demo.routes.filter(({ name }) => name === 'Fan north command' || name === 'Fan north set point');
      expect(of(site, 'pe-ribbon-panel tr[data-id]').map(({ dataset }) => dataset['id'])).toEqual(routes.map(({ id }) => id));
      of(site, 'pe-ribbon-panel tr[data-id]')[0]!.click();
      expect(navigate).toHaveBeenCalledWith(['/routes'], { queryParams: { route: routes[0]!.id } });
      of(site, 'button[name=turn-ribbon]')[0]!.click();
      expect(navigate).toHaveBeenCalledWith([], { queryParams: { from: drive.id, to: controller.id } });
    });

    it('opens a ribbon from the panel of a device at its end, too', async () => {
      const navigate = spyOn(TestBed.inject(Router), 'navigate').and.resolveTo(true);
      const [controller, drive] = [deviceNamed('Kiln controller'), deviceNamed('Fan drive north')];
      const site = on.show(SiteScreen, { device: drive.id });
      await turn();
      site.detectChanges();
      const lines = of(site, 'pe-device-panel li button');
      expect(lines.map(({ innerText }) => innerText.replace(/ ·.*/, ''))).toEqual([
        '⟶ Kiln controller 5 routes',
        '⟵ Kiln controller 2 routes',
      ]);
      lines[1]!.click();
      expect(navigate).toHaveBeenCalledWith([], { queryParams: { from: controller.id, to: drive.id } });
    });

    it('opens a device that is clicked, and puts what it was asked for into the address', async () => {
      const navigate = spyOn(TestBed.inject(Router), 'navigate').and.resolveTo(true);
      const meter = deviceNamed('Plant meter');
      const site = on.show(SiteScreen, { device: meter.id });
      await turn();
      site.detectChanges();
      expect(textOf(site, 'pe-device-panel')).toContain('Plant meter');
      expect(of(site, '.device.chosen').map(({ title }) => title)).toEqual(['Plant meter']);
      of(site, '.device')
        .find(({ title }) => title === 'Exhaust damper')!
        .click();
      expect(navigate).toHaveBeenCalledWith([], { queryParams: { device: deviceNamed('Exhaust damper').id } });
      [...of(site, 'button')].find(({ innerText }) => innerText === 'Add device')!.click();
      expect(navigate).toHaveBeenCalledWith([], { queryParams: { add: 'device' } });
    });

    it('can be seen whole', () => {
      const site = on.show(SiteScreen);
      const button = of(site, '.screen-head button').find(({ innerText }) => innerText === 'Zoom to fit')!;
      button.click();
      site.detectChanges();
      expect([button.innerText, button.getAttribute('aria-pressed')]).toEqual(['Full size', 'true']);
      expect(of(site, '.sheet')[0]!.style.transform).toMatch(/scale\(0\.\d+\)|scale\(1\)/);
    });

    it('is zoomed with Ctrl and the wheel around the pointer, and has an overview once it is not all in view', async () => {
      const site = on.show(SiteScreen);
      Object.assign(pageOf(site).style, { width: '1000px', height: '500px', display: 'flex', flexDirection: 'column' });
      await frames(site);
      const plant = of(site, '.plant')[0]!;
      const scale = () => Number(/scale\(([\d.]+)\)/.exec(of(site, '.sheet')[0]!.style.transform)![1]);
      const box = plant.getBoundingClientRect();
      const [at, before] = [{ clientX: box.left + 300, clientY: box.top + 200 }, scale()];
      const under = () => (plant.scrollLeft + 300) / scale();
      const place = under();
      for (let turns = 0; turns < 4; turns++)
        plant.dispatchEvent(new WheelEvent('wheel', { deltaY: -100, ctrlKey: true, cancelable: true, ...at }));
      await frames(site);
      expect(scale()).toBeCloseTo(before * 1.15 ** 4, 3);
      expect(under()).toBeCloseTo(place, -1);
      const overview = of(site, 'pe-site-overview svg')[0]!;
      const small = overview.getBoundingClientRect();
      overview.dispatchEvent(new PointerEvent('pointerdown', { clientX: small.right - 2, clientY: small.bottom - 2, bubbles: true }));
      await frames(site);
      expect(plant.scrollLeft + plant.clientWidth).toBeGreaterThan(plant.scrollWidth - 60);
      plant.dispatchEvent(new WheelEvent('wheel', { deltaY: 100, cancelable: true, ...at }));
      expect(scale())
        .withContext('the wheel alone scrolls')
        .toBeCloseTo(before * 1.15 ** 4, 3);
    });
  });
});
