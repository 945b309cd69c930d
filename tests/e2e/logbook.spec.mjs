// The logbook as a shop uses it after ten weeks: a record taken in, found again, read from the counter to the counter, a run watched once
// more, what all of it teaches, and the customers' words gone when their time is over.
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { gunzipSync } from 'node:zlib';
import { expect, test } from './world.mjs';
import { act, look, signIn, watch, web } from './steps.mjs';

// The later walks read what the first has taken in.
test.describe.configure({ mode: 'serial' });

test('a record is taken in, and the same file twice does no harm', { tag: '@turn-3' }, async ({ page }) => {
  watch(page);
  await signIn(page);
  const file = join(process.env.JUNCTRA_FOLDER, 'history.jsonl');
  writeFileSync(file, gunzipSync(readFileSync('demo/history.jsonl.gz')));
  await page.goto(web('/records'));
  await look(page, 'records');
  for (const says of ['160 taken in, 0 here already', '0 taken in, 160 here already']) {
    await page.getByLabel(/^File/).setInputFiles(file);
    await act(page, 'Take it in');
    await expect(page.locator('[data-live]')).toContainText(says);
  }
  const [download] = await Promise.all([page.waitForEvent('download'), page.getByRole('link', { name: 'Tables for a spreadsheet' }).click()]);
  expect(readFileSync(await download.path()).subarray(0, 2).toString()).toBe('PK');
});

test('a job is found by anything in its record, and filters say how many they leave', { tag: '@turn-3' }, async ({ page }) => {
  watch(page);
  await signIn(page, 'bench');
  // All of the record; what other walks have taken in by then stands there, too.
  await expect(async () => { await page.goto(web('/logbook')); expect(Number((await page.locator('h1 + p').innerText()).match(/(\d+) jobs/)?.[1])).toBeGreaterThanOrEqual(174); }).toPass();
  const choice = page.locator('.facet-value', { hasText: /^\s*in order/ });
  const jobs = await choice.locator('small').textContent();
  await choice.click();
  await expect(page.locator('h1 + p')).toContainText(`${jobs} jobs of this kind`);
  await look(page, 'logbook');
  // Typed from the keyboard, the filter stays; a beginning is enough.
  await page.locator('#q').fill('frayed');
  await page.keyboard.press('Enter');
  await expect(page.locator('.facet-value.on')).toContainText('in order');
  await expect(page.locator('.logbook tbody tr').first()).toBeVisible();
  await page.getByRole('link', { name: 'Show all' }).click();
  await page.locator('#q').fill('frayd');
  await page.keyboard.press('Enter');
  await page.getByRole('link', { name: 'frayed', exact: true }).click();
  await expect(page.locator('h1 + p')).toContainText('of this kind');
  // By the find field of any page, too: a ticket leads to its job, a word to all jobs that have it.
  await page.keyboard.press('Escape');
  await page.locator('h1').click();
  await page.keyboard.press('/');
  await page.keyboard.type('frayed');
  await page.keyboard.press('Enter');
  await expect(page.locator('h1')).toHaveText('Found for “frayed”');
  await expect(page.locator('main')).toContainText('Jobs');
});

test('a story is read, and a run is watched once more', { tag: '@turn-3' }, async ({ page }) => {
  watch(page);
  await signIn(page, 'bench');
  // One that broke off and was begun again.
  await page.goto(web('/logbook?q=connection+broke&outcome=in-order'));
  await page.locator('.logbook .row-link').first().click();
  await expect(page.locator('.chapter').first()).toContainText('Intake');
  await expect(page.locator('.chapter', { hasText: 'The write ended early' }).first()).toBeVisible();
  await expect(page.locator('.chapter').last()).toContainText('Handed back');
  const run = page.locator('section.card', { hasText: 'Came of it' }).last();
  await run.getByRole('button', { name: 'Watch it once more' }).click();
  await expect(run.locator('.replay')).toBeVisible();
  await run.getByRole('button', { name: 'Pause' }).click();
  // To its end by the slider, by keys.
  await run.getByRole('slider').focus();
  await page.keyboard.press('End');
  await expect(run.locator('[data-progress]')).toHaveAttribute('aria-valuenow', '100');
  await expect(run.locator('.journal')).toContainText('finished: all of it is done');
  // On the drawn phone too, as its twin shows it in the mode in which it was.
  await expect(run.locator('.replay-phone .twin-screen')).toContainText(/\S/);
  await page.keyboard.press('Home');
  await expect(run.locator('.journal')).not.toContainText('finished: all of it is done');
  await look(page, 'story');
});

test('what the log teaches leads to the jobs behind it', { tag: '@turn-3' }, async ({ page }) => {
  watch(page);
  await signIn(page, 'bench');
  await page.goto(web('/insight'));
  await expect(page.locator('#times')).toContainText('the aim is 85 to 95 %');
  await expect(page.locator('#cables')).toContainText('take it out of use');
  await look(page, 'insight');
  await page.locator('#cables').getByRole('link', { name: 'white, frayed' }).click();
  await expect(page.locator('.facet-value.on')).toContainText('Cables: white, frayed');
  await page.locator('.logbook .row-link').first().click();
  await expect(page.locator('.chapter', { hasText: 'white, frayed' }).first()).toBeVisible();
});

test('customers\' words go when the shop\'s rule says so', { tag: '@turn-3' }, async ({ page }) => {
  watch(page);
  await signIn(page);
  await page.goto(web('/records'));
  await page.getByLabel('Days').fill('1');
  await page.getByLabel('Reason').fill('a walk');
  await act(page, 'Apply');
  await expect(page.getByRole('status')).toContainText('kept for 1 days');
  await act(page, 'Remove what is due now');
  await expect(page.getByRole('status')).toContainText(/words of 1\d\d jobs were removed/);
  await page.goto(web('/jobs/0256/story'));
  await expect(page.locator('.job-head')).toContainText('(removed by the shop\'s rule)');
  await expect(page.locator('main')).toContainText('Removed, 1 days after the hand-back');
});
