// What the walks share: addresses, looking at a view, acting, signing in.
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import AxeBuilder from '@axe-core/playwright';
import { expect } from '@playwright/test';

export const web = (path) => process.env.JUNCTRA_WEB + path;

/** Views whose pictures are kept, under twenty of them. */
const kept = ['bench', 'catalogue', 'check', 'find-out', 'hand-back', 'insight', 'intake', 'logbook', 'match', 'package', 'packages', 'plan', 'practice', 'rescue', 'route', 'sources', 'story', 'triage', 'write'];

const axeSource = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8');

/**
 * What looks for barriers on a page, within the page alone: none has frames, for which another page would be opened each time. It says
 * nothing of what is in order, and fetches no style a second time: that is a third of its work.
 */
export const barriers = (page) => new AxeBuilder({ page, axeSource }).setLegacyMode().options({ resultTypes: ['violations'], preload: false });

/**
 * What every view must be: nothing for axe to find, and a picture of the main ones when pictures are asked for. A page that loads itself
 * anew meanwhile, as the bench does, is looked at once more.
 */
export async function look(page, name) {
  for (let tries = 1; ; tries++) {
    try {
      return await lookOnce(page, name);
    } catch (error) {
      if (tries === 3 || !/context was destroyed|frame (was|got) detached/i.test(error.message)) throw error;
      await page.waitForLoadState();
    }
  }
}

async function lookOnce(page, name) {
  // From its top, and with the bar of acts in its own place: which row the bars above and below cover half depends on how far it is
  // scrolled and how the head wraps, and that on the hour.
  const scrolled = await page.evaluate(() => window.scrollY);
  const bars = (position, y) => page.evaluate(([is, to]) => {
    document.querySelectorAll('.action-bar').forEach((bar) => { bar.style.position = is; });
    window.scrollTo(0, to);
  }, [position, y]);
  await bars('static', 0);
  const { violations } = await barriers(page).withTags(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa']).analyze();
  await bars('', scrolled);
  expect(violations.map((v) => `${v.id}: ${v.nodes.map((n) => n.target).join(', ')}`), name).toEqual([]);
  if (process.env.JUNCTRA_SHOTS && kept.includes(name)) await page.screenshot({ path: `docs/screenshots/${name}.png` });
}

/** Presses the last button whose words begin so. */
export const act = (page, name) => page.getByRole('button', { name: new RegExp(`^${name}`) }).last().click();

// What a browser was given when somebody signed in: the next walk in the same world comes with it, as a browser does that was left open.
const signedIn = new Map();

/** Signs in by keys, as one of the demo's people; who did so in an earlier walk of the same world, and was not signed out since, is in. */
export async function signIn(page, who = 'lead') {
  const world = `${web('/')} ${who}`;
  if (signedIn.has(world)) {
    await page.context().addCookies(signedIn.get(world));
    await page.goto(web('/'));
    if (await page.locator('.who').filter({ hasText: who }).count() > 0) return;
  }
  await page.goto(web('/sign-in'));
  await page.locator('#name').fill(who);
  await page.keyboard.press('Tab');
  await page.keyboard.type(`slipway-${who}`);
  await page.keyboard.press('Enter');
  await expect(page.locator('.who')).toHaveText(who);
  // The first who comes puts the line away that newcomers are shown.
  const away = page.getByRole('button', { name: 'Put this away' });
  if (await away.count() > 0) {
    await away.click();
    await expect(away).toHaveCount(0);
  }
  signedIn.set(world, await page.context().cookies());
}

/**
 * No error on any page, no break of the content policy, no request that leaves the machine. A key is pressed when the page is
 * there: its scripts are deferred, so a key pressed on a page still being read would be lost, as it would for a person.
 */
export function watch(page) {
  const press = page.keyboard.press.bind(page.keyboard);
  page.keyboard.press = async (...key) => {
    await page.waitForLoadState('domcontentloaded');
    await press(...key);
  };
  page.on('pageerror', (error) => { throw error; });
  page.on('console', (message) => { if (/Content.Security.Policy|Alpine/i.test(message.text())) throw new Error(message.text()); });
  page.on('request', (request) => { expect(new URL(request.url()).hostname).toBe('127.0.0.1'); });
}
