import { By, Key, type ThenableWebDriver, type WebElement } from 'selenium-webdriver';
import { DEMO_ID } from '@plain-envoy/core/model';
import { eventually, screenOf } from './start.js';

/**
 * What of an element is to be read, line by line. WebDriver’s own way asks for the style of everything that lies in it, which takes
 * seconds on a full screen, and as long from the page that is looked at.
 */
const READ = `const read = (element) => element.checkVisibility() || getComputedStyle(element).display === 'contents'
  ? (element.innerText ?? element.textContent).replace(/[^\\S\\n]+/g, ' ').replace(/ ?\\n[ \\n]*/g, '\\n').trim()
  : '';`;

/** The page as a person uses it: what is shown, and keys. */
export class Page {
  constructor(
    private readonly driver: ThenableWebDriver,
    private readonly address: string,
  ) {}

  /** A screen of a project, the demo where no other is named. */
  async open(path: string, projectId = DEMO_ID): Promise<void> {
    await this.driver.get(screenOf(this.address, path, projectId));
    await this.shows('main h1');
  }

  /** The first page. */
  async enter(): Promise<void> {
    await this.driver.get(`${this.address}/`);
    await this.shows('main h1');
  }

  shows(selector: string): Promise<WebElement> {
    return eventually(selector, async () => (await this.driver.findElements(By.css(selector)))[0]);
  }

  /** Clicks the first of this kind, once that can be clicked: what is drawn just now may have no size yet, or not be there any more. */
  async click(selector: string): Promise<void> {
    await eventually(`a click on ${selector}`, async () => {
      const [element] = await this.driver.findElements(By.css(selector));
      await element?.click();
      return element;
    });
  }

  /** The element of this kind whose text holds `text`. */
  withText(selector: string, text: string): Promise<WebElement> {
    return eventually(`${selector} with “${text}”`, () =>
      this.driver.executeScript<WebElement | null>(
        `${READ} return [...document.querySelectorAll(arguments[0])].find((element) => read(element).includes(arguments[1])) ?? null;`,
        selector,
        text,
      ),
    );
  }

  async says(selector: string, text: string | RegExp, withinMs?: number): Promise<string> {
    return eventually(
      `${selector} saying “${text}”`,
      async () => (await this.texts(selector)).find((found) => (typeof text === 'string' ? found.includes(text) : text.test(found))),
      withinMs,
    );
  }

  /** What a person reads of each element of this kind. */
  texts(selector: string): Promise<string[]> {
    return this.driver.executeScript<string[]>(`${READ} return [...document.querySelectorAll(arguments[0])].map(read);`, selector);
  }

  /** Whether the first of this kind lies within the window from side to side, once it is shown. */
  async isSeenWhole(selector: string): Promise<boolean> {
    const { x, width } = await (await this.shows(selector)).getRect();
    return width > 0 && x >= 0 && x + width <= (await this.driver.executeScript<number>('return innerWidth'));
  }

  /** A cell of the register grid, by the name of its point, with the keyboard on it. */
  async cell(name: string, column = 'name'): Promise<WebElement> {
    const path = `//pe-point-grid//div[@role='row'][.//div[@col-id='name' and normalize-space(.)='${name}']]//div[@col-id='${column}']`;
    const cell = await eventually(`the cell ${column} of ${name}`, async () => (await this.driver.findElements(By.xpath(path)))[0]);
    await this.driver.executeScript('arguments[0].scrollIntoView({ block: "center" })', cell);
    await cell.click();
    return cell;
  }

  /** Puts the keyboard on an element; found and focused in one look, so that the page cannot draw it anew in between. */
  async focus(selector: string): Promise<void> {
    const script = `const element = document.querySelector(arguments[0]);
      element?.focus();
      return element !== null && document.activeElement === element;`;
    await eventually(`the keyboard on ${selector}`, async () => this.driver.executeScript<boolean>(script, selector));
  }

  /** Takes a lane of a bank by keyboard, once that device is shown; only lanes in view are drawn, so it is walked to. */
  async lane(bank: `From ${string}` | `To ${string}`, name: string): Promise<void> {
    await this.focus(`pe-bank ul[aria-label="${bank}"] [role=option][tabindex="0"]`);
    await this.press(Key.HOME);
    await eventually('the first lane', async () =>
      this.driver.executeScript<boolean>('return document.activeElement.getAttribute("aria-posinset") === "1"'),
    );
    await this.pressUntil(Key.ARROW_DOWN, name);
    await this.press(Key.ENTER);
  }

  async press(...keys: string[]): Promise<void> {
    await this.driver
      .actions()
      .sendKeys(...keys)
      .perform();
  }

  async chord(modifier: string, key: string): Promise<void> {
    await this.driver.actions().keyDown(modifier).sendKeys(key).keyUp(modifier).perform();
  }

  /** Ctrl+K, a name, Enter. */
  async find(name: string): Promise<void> {
    await this.chord(Key.CONTROL, 'k');
    await eventually('the keyboard in the palette', async () => (await this.focused()) === 'Find anything');
    await this.press(name);
    await this.says('pe-palette li[aria-selected=true]', new RegExp(name, 'i'));
    await this.press(Key.ENTER);
    await eventually('the palette closed', async () => (await this.driver.findElements(By.css('pe-palette'))).length === 0);
  }

  /** Presses a key until the element with the keyboard holds `text`. */
  async pressUntil(key: string, text: string, most = 60): Promise<void> {
    for (let times = 0; times < most; times++) {
      if ((await this.focused()).includes(text)) return;
      await this.press(key);
    }
    throw new Error(`The keyboard did not come to “${text}”; it is on “${await this.focused()}”.`);
  }

  async focused(): Promise<string> {
    return this.driver.executeScript<string>(
      'const e = document.activeElement; return e === document.body ? "" : e.getAttribute("aria-label") || e.name || e.innerText || ""',
    );
  }

  /** Chooses in a field: where it is searched by typing and Enter, else in the list that opens. `within` says where the field is. */
  async choose(name: string, text: string, within = ''): Promise<void> {
    const field = `${within} [data-name="${name}"]`;
    await this.shows(field);
    const [box] = await this.driver.findElements(By.css(`${field} input`));
    if (!box) {
      await this.click(`${field} .mat-mdc-select-trigger`);
      await (await this.withText('mat-option', text)).click();
      return;
    }
    await box.click();
    await box.sendKeys(Key.chord(Key.CONTROL, 'a'), text);
    await this.withText('mat-option', text.split(' ')[0]!);
    await box.sendKeys(Key.ENTER);
    await eventually('the list closed', async () => (await this.driver.findElements(By.css('mat-option'))).length === 0);
  }

  /** What a field of choices shows. */
  async chosen(name: string, within = ''): Promise<string> {
    const field = `${within} [data-name="${name}"]`;
    await this.shows(field);
    const [box] = await this.driver.findElements(By.css(`${field} input`));
    return box ? ((await box.getAttribute('value')) ?? '') : (await this.shows(`${field} .mat-mdc-select-value`)).getText();
  }

  async retype(selector: string, text: string): Promise<void> {
    const box = await this.shows(selector);
    await box.sendKeys(Key.chord(Key.CONTROL, 'a'), text || Key.DELETE);
  }

  /** The cells of a route in the table, by name. */
  async route(name: string): Promise<Record<string, string>> {
    return (await this.routes())[name] ?? {};
  }

  /** The cells of every route in the table. Only those in view are drawn, so it is scrolled from top to end and back. */
  routes(): Promise<Record<string, Record<string, string>>> {
    return this.driver.executeAsyncScript<Record<string, Record<string, string>>>(
      `const done = arguments[arguments.length - 1];
       const routes = {};
       const drawn = () => new Promise((next) => requestAnimationFrame(() => setTimeout(next)));
       const look = () => {
         for (const row of document.querySelectorAll('pe-route-table tr[data-id]')) {
           const cells = {};
           for (const cell of row.querySelectorAll('[data-cell]')) cells[cell.dataset.cell] = cell.innerText.trim();
           cells.reason = row.querySelector('[data-cell=quality]').title;
           routes[row.cells[0].innerText.trim()] = cells;
         }
       };
       (async () => {
         const box = document.querySelector('pe-route-table :is(cdk-virtual-scroll-viewport, pe-table:not(:has(cdk-virtual-scroll-viewport)))');
         const before = box?.scrollTop ?? 0;
         for (let top = 0; box && top <= box.scrollHeight; top += box.clientHeight) {
           box.scrollTop = top;
           await drawn();
           look();
         }
         if (box) box.scrollTop = before;
         done(routes);
       })();`,
    );
  }

  async routeNames(): Promise<string[]> {
    return Object.keys(await this.routes());
  }
}
