// The bench day as people at the bench use it: along the timetable by keys alone, a job opened from it, the list of today one key away, a
// screen at the wall.
import { expect, test } from './world.mjs';
import { act, look, signIn, watch, web } from './steps.mjs';

test.describe.configure({ mode: 'serial' });

// Whatever the hour, somebody is there.
async function alwaysOpen(page, wall) {
  await page.goto(web('/bench-hours'));
  for (const time of ['#opens', '#closes', '#breakFrom', '#breakTo']) await page.locator(time).fill('00:00');
  for (const day of await page.locator('input[name=on]').all()) await day.check();
  await page.locator('#people').fill('north 0:00-0:00\nsouth 0:00-0:00');
  await page.locator('input[name=wall]').setChecked(wall);
  await act(page, 'Change the hours');
  await expect(page.locator('.notice-go')).toBeVisible();
}

async function timetable(page) {
  await expect(async () => {
    await page.goto(web('/'));
    await expect(page.locator('.next-hand').filter({ hasText: 'south' })).toBeVisible({ timeout: 1000 });
  }).toPass();
}

/** Where the focus is: the ticket that it leads to, and its middle. */
const focused = (page) => page.evaluate(() => {
  const box = document.activeElement.getBoundingClientRect();
  return { ticket: document.activeElement.getAttribute('href')?.split('q=')[1], x: box.left, y: box.top + box.height / 2 };
});

test('arrows go along the timetable, enter opens the job, and the list is one key away', { tag: '@turn-5' }, async ({ page }) => {
  watch(page);
  await signIn(page);
  await alwaysOpen(page, false);
  await timetable(page);
  await look(page, 'timetable');
  // Everybody reads first what is next.
  await expect(page.locator('.next-hand')).toHaveCount(2);

  await page.keyboard.press('t');
  const first = await focused(page);
  expect(first.ticket).toBe(await page.locator('.next-hand').first().locator('b').textContent());
  await page.keyboard.press('ArrowRight');
  const second = await focused(page);
  expect(second.x).toBeGreaterThan(first.x);
  expect(Math.abs(second.y - first.y)).toBeLessThan(1);
  await page.keyboard.press('ArrowLeft');
  expect(await focused(page)).toEqual(first);
  // At the beginning of a line there is nothing further left.
  await page.keyboard.press('ArrowUp');
  expect(await focused(page)).toEqual(first);
  await page.keyboard.press('ArrowDown');
  const below = await focused(page);
  expect(below.y).toBeGreaterThan(first.y);
  await page.keyboard.press('ArrowUp');
  expect((await focused(page)).y).toBe(first.y);
  // Down to the last line, which is a phone's own.
  const lines = await page.locator('svg.timetable .job-ticket').count();
  expect(lines).toBeGreaterThan(5);
  for (let i = 0; i < lines + 20; i++) await page.keyboard.press('ArrowDown');
  const last = await focused(page);
  expect(last.ticket).toBe(await page.locator('svg.timetable .job-ticket').last().textContent());
  await page.keyboard.press('Enter');
  await expect(page.locator('h1, .job-head').first()).toBeVisible();
  await expect(page).toHaveURL(new RegExp(last.ticket));

  await page.goBack();
  await page.keyboard.press('l');
  await expect(page.locator('#today')).toBeFocused();
  await expect(page.locator('#today')).toBeInViewport();
  await page.keyboard.press('j');
  await expect(page.locator('#today a.row-link').first()).toBeFocused();
});

test('a screen at the wall shows it only where the lead says so, and nothing of the customers', { tag: '@turn-5' }, async ({ page, browser }) => {
  watch(page);
  const context = await browser.newContext({ viewport: { width: 1920, height: 1080 } });
  const wall = await context.newPage();
  await wall.clock.install();
  expect((await wall.goto(web('/wall'))).status()).toBe(404);
  await signIn(page);
  await alwaysOpen(page, true);
  await expect(async () => {
    expect((await wall.goto(web('/wall'))).status()).toBe(200);
    await expect(wall.locator('.next-hand')).toHaveCount(2, { timeout: 1000 });
  }).toPass();
  await look(wall, 'wall');
  // It leads nowhere, and is all seen without anybody to scroll it.
  expect(await wall.locator('main a, main button').count()).toBe(0);
  expect(await wall.evaluate(() => document.documentElement.scrollHeight <= innerHeight)).toBe(true);
  await page.goto(web('/'));
  const said = await page.locator('#today tbody tr').evaluateAll((rows) => rows.map((row) => row.cells[2].textContent.split(', ').slice(1).join(', ').trim()));
  const shown = await wall.locator('body').innerText();
  for (const words of said.filter((one) => one.length > 0)) expect(shown).not.toContain(words);

  // Nobody touches it: it follows by itself, says where it cannot, and goes blank when the lead switches it off.
  await context.setOffline(true);
  for (let minute = 0; minute < 3; minute++) await wall.clock.runFor('01:01');
  await expect(wall.getByText(/Not heard from since/)).toBeVisible();
  await expect(wall.locator('.next-hand')).toHaveCount(2);
  await context.setOffline(false);
  await wall.clock.runFor('01:01');
  await expect(wall.getByText(/Not heard from since/)).toBeHidden();
  await alwaysOpen(page, false);
  await wall.clock.runFor('01:01');
  await expect(wall.locator('.next-hand')).toHaveCount(0);
  expect((await wall.goto(web('/wall'))).status()).toBe(404);
});
