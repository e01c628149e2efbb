/** A running Dravex with the sample company for one file of tasks, and the hands that use it. */
import { randomBytes } from 'node:crypto';
import { fileURLToPath } from 'node:url';
import { test as base, expect, type Locator, type Page } from '@playwright/test';
import { createDatabase, dropDatabase } from '../../scripts/databases.mjs';
import { createPerson, PLANNER, startHost } from '../../scripts/application.mjs';

/** What a target's name may be followed by. */
const TAIL = '(from |to |cushion|locked|handed out|agreed|question)';

export { expect };

export const FAULTY_FILE = fileURLToPath(
  new URL('../../sample/try/sales-with-faults.csv', import.meta.url),
);

function setting(name: string): string {
  const value = process.env[name];
  if (!value) throw new Error(`${name} is not set; run the tasks by npm test`);
  return value;
}

/** A server on a database of its own: an empty one, or a clone of the sample company's. */
async function served(
  host: ReturnType<typeof startHost>,
  template: string | undefined,
  use: (origin: string) => Promise<void>,
  prepare: (databaseUrl: string) => Promise<void> = () => Promise.resolve(),
): Promise<void> {
  const admin = setting('TEST_ADMIN_URL');
  const name = `task_${randomBytes(6).toString('hex')}`;
  await createDatabase(admin, name, template);
  const url = new URL(admin);
  url.pathname = `/${name}`;
  await prepare(url.href);
  const server = await host.open(url.href);
  await use(`http://127.0.0.1:${server.port}`);
  await server.stop();
  await dropDatabase(admin, name);
}

/** What happens in the page that nobody sees; nothing, when all is well. */
function faultsOf(page: Page): string[] {
  const faults: string[] = [];
  page.on('pageerror', (error) => faults.push(error.message));
  // A page that is left while something is being kept asks first: who leaves here means it.
  page.on('dialog', (dialog) => void dialog.accept());
  return faults;
}

export const test = base.extend<
  {
    planner: Desk;
    /** A second planner in a browser of their own. */
    colleague: Desk;
    origin: string;
    /** An installation in which nothing is planned yet, with a person who can sign in. */
    emptyOrigin: string;
    /** Says what stood on the screen when a task failed: where it runs, nobody else sees it. */
    lastSeen: void;
  },
  {
    /** The process that serves whatever the tasks of one worker need. */
    host: ReturnType<typeof startHost>;
  }
>({
  host: [
    async ({ browserName: _ }, use) => {
      const host = startHost();
      await use(host);
      host.end();
    },
    { scope: 'worker' },
  ],
  origin: [({ host }, use) => served(host, setting('TEST_TEMPLATE'), use), { scope: 'test' }],
  emptyOrigin: [
    ({ host }, use) =>
      served(host, undefined, use, (url) => Promise.resolve(createPerson(url, PLANNER))),
    { scope: 'test' },
  ],
  lastSeen: [
    async ({ page }, use, info) => {
      await use();
      if (info.status === info.expectedStatus) return;
      const text = await page.locator('body').innerText({ timeout: 2000 });
      process.stderr.write(`On the screen of "${info.title}":\n${text.slice(0, 1500)}\n`);
    },
    { auto: true },
  ],
  colleague: async ({ browser, planner, origin }, use) => {
    await planner.letIn({
      name: 'Ilse Tarn',
      email: 'tarn@ondwell.example',
      password: 'plans as well',
    });
    const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
    const page = await context.newPage();
    const faults = faultsOf(page);
    const desk = new Desk(page, origin);
    await desk.enter('tarn@ondwell.example', 'plans as well');
    await use(desk);
    expect(faults, 'nothing fails unseen in the page').toEqual([]);
    await context.close();
  },
  planner: async ({ page, origin }, use) => {
    const faults = faultsOf(page);
    const desk = new Desk(page, origin);
    await desk.enter('planner@ondwell.example', 'plan the year');
    await use(desk);
    expect(faults, 'nothing fails unseen in the page').toEqual([]);
  },
});

/** What a person does at the screen, in their words. */
export class Desk {
  constructor(
    readonly page: Page,
    readonly origin: string,
  ) {}

  async signIn(email: string, password: string): Promise<void> {
    // Who has seen the tour is not shown it again.
    await this.enter(email, password);
    await this.page.context().clearCookies();
    await this.page.goto(this.origin);
    await this.page.getByLabel('E-mail address').fill(email);
    await this.page.getByLabel('Password').fill(password);
    await this.page.getByRole('button', { name: 'Sign in' }).click();
    await expect(this.page).toHaveURL(/\/w\/\d+\/standing/);
    await expect(this.heading).not.toBeEmpty();
  }

  /** Signs out, which loads the page anew. */
  async signOut(): Promise<void> {
    await this.page.getByRole('button', { name: 'Sign out' }).click();
    await expect(this.page.getByRole('button', { name: 'Sign in' })).toBeVisible();
  }

  /**
   * Comes in with a session begun elsewhere: the way by the form has a task of its own. No page is
   * open yet; whoever is the first to go to a room, or to an address, opens it.
   */
  async enter(email: string, password: string): Promise<void> {
    const answer = await this.page.request.post(`${this.origin}/api/session`, {
      data: { email, password },
    });
    expect(answer.ok()).toBe(true);
    // The tour of the first visit has a task of its own.
    const { csrfToken } = (await answer.json()) as { csrfToken: string };
    await this.page.request.put(`${this.origin}/api/session/preferences`, {
      headers: { 'x-csrf-token': csrfToken },
      data: { toured: true },
    });
  }

  /** Chooses from a list, by keyboard as far as its entries. */
  async choose(named: Locator, option: string): Promise<void> {
    // The list that opens bears the same name.
    const field = named.and(this.page.locator('input'));
    // In a menu that is not placed yet it cannot have the focus.
    await expect(async () => {
      await field.focus();
      await expect(field).toBeFocused({ timeout: 500 });
    }).toPass();
    await this.page.keyboard.press('Enter');
    const searched = field.locator('xpath=ancestor::*[contains(@class, "v-autocomplete")]');
    if ((await searched.count()) > 0) await field.fill(option);
    await this.page.getByRole('option', { name: option, exact: true }).click();
  }

  /** An entry of the menu at the far right of the room's heading. */
  async inMenu(name: string | RegExp): Promise<Locator> {
    await this.page.getByRole('button', { name: 'More actions' }).click();
    return this.page.locator('.v-overlay--active .v-list-item').filter({ hasText: name });
  }

  /** Opens the history of the room. */
  async history(): Promise<Locator> {
    await (await this.inMenu('History of changes')).click();
    return this.page.getByRole('complementary', { name: 'History', exact: true });
  }

  /** What the room says it found. */
  get heading(): Locator {
    return this.page.getByRole('heading', { level: 1 });
  }

  /** Goes to a room by the rail; by its address where no page is open yet. */
  async room(name: string): Promise<void> {
    if (this.page.url() === 'about:blank') {
      await this.page.goto(`${this.origin}/w/1/${name.toLowerCase()}`);
    } else {
      await this.page.getByRole('navigation').getByRole('link', { name }).click();
    }
    await expect(this.page).toHaveURL(new RegExp(`/${name.toLowerCase()}\\?`));
    await expect(this.heading).not.toBeEmpty();
  }

  /** Chooses a driver in the tree of the Drivers room. */
  async driver(name: string): Promise<void> {
    const tab = this.page.getByRole('tab', { name, exact: true });
    await tab.click();
    await expect(tab).toHaveAttribute('aria-selected', 'true');
  }

  /** Chooses a window by its preset. */
  async window(preset: string): Promise<void> {
    const button = this.page.getByRole('button', { name: preset, exact: true });
    await button.click();
    await expect(button).toHaveAttribute('aria-pressed', 'true');
  }

  /** A cell of a grid: by its row's name (the first such row; what is said behind it may be left out) and its column's heading. */
  async cell(row: string, column: string): Promise<Locator> {
    const name = this.page
      .locator('.plan-grid [role="rowheader"]')
      .filter({ hasText: new RegExp(`^\\W*${row}(\\W*|\\s*${TAIL}.*)$`) })
      .first();
    await expect(name).toBeVisible();
    const heading = this.page
      .locator('.plan-grid [role="columnheader"]')
      .filter({ hasText: new RegExp(`^\\W*${column}\\W*$`) })
      .first();
    // Columns out of sight are not drawn: one scrolls to them.
    for (let steps = 0; steps < 12 && (await heading.count()) === 0; steps += 1) {
      await this.page
        .locator('.plan-grid')
        .evaluate((grid, step) => (grid.scrollLeft = 240 * step), steps);
      await this.page.waitForTimeout(60);
    }
    const columnKey = await heading.getAttribute('data-key');
    // The first figure of the row says the row's key, whatever is drawn anew meanwhile.
    const figure = name.locator('xpath=following-sibling::*[@data-cell][1]');
    const key = ((await figure.getAttribute('data-cell')) ?? '').replace(/ [^ ]*$/, '');
    return this.page.locator(`[data-cell="${key} ${columnKey}"]`);
  }

  /** The first figure of a grid. */
  get firstFigure(): Locator {
    return this.page.locator('.plan-grid .scrolls [role="gridcell"]:not(.pinned-column)').first();
  }

  /** The field of a grid while a cell is open for typing. */
  get openField(): Locator {
    return this.page.locator('.field-place.open .field');
  }

  /** The number a cell shows. */
  async figure(row: string, column: string): Promise<number> {
    const text = await (await this.cell(row, column)).innerText();
    return Number(text.replace(/[,%*\s]/g, '').replace('\u2212', '-'));
  }

  /** Types into a cell and presses Enter, as fast as a machine can. */
  async type(cell: Locator, text: string): Promise<void> {
    await cell.click();
    // A number opens the cell; anything else is typed into it when it is open.
    if (!/^[\d+\-.,=x]/.test(text)) await this.page.keyboard.press('F2');
    if (!/^[\d+\-.,=x]/.test(text)) await this.page.keyboard.press('Control+a');
    await this.page.keyboard.type(text);
    await this.page.keyboard.press('Enter');
  }

  /** Lets somebody in, with a password that is known. */
  async letIn(
    person: { name: string; email: string; password: string },
    role = 'planner',
  ): Promise<void> {
    const session = await this.page.request.get(`${this.origin}/api/session`);
    const { csrfToken } = (await session.json()) as { csrfToken: string };
    const answer = await this.page.request.post(`${this.origin}/api/workspaces/1/people`, {
      headers: { 'x-csrf-token': csrfToken },
      data: { ...person, role },
    });
    expect(answer.status()).toBe(201);
  }

  /** The drawer that explains a number. */
  get trace(): Locator {
    return this.page.getByRole('complementary', { name: 'Trace' });
  }

  /** Goes to a number of a grid, or presses one elsewhere, and has it explained. */
  async explain(number: Locator): Promise<void> {
    await number.click();
    if (!(await this.trace.isVisible())) await this.page.keyboard.press('Space');
    await expect(this.trace).toBeVisible();
  }

  /** The number that is explained. */
  async traced(): Promise<number> {
    const text = await this.trace.locator('[data-trace-value]').innerText();
    return Number(text.replace(/[^\d.\u2212-]/g, '').replace('\u2212', '-'));
  }

  /** Waits until the foot says that everything is saved. */
  async saved(): Promise<void> {
    await expect(this.page.locator('[data-saved]')).toHaveText(/^(Saved|All saved)/);
  }
}
