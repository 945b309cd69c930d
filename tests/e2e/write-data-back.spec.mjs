// Data saved over the debugging link, erased by a wipe, and brought back from the check: on a phone without a demo job.
import { expect, test } from './world.mjs';
import { begin, handBack, hands, inRecovery, into, phone, read, wanted } from './bench.mjs';
import { act, look, signIn, watch, web } from './steps.mjs';

const files = async () => (await (await fetch(`${process.env.JUNCTRA_HANDS}/phones/C/files`)).json()).storage;

/** It runs, and gives its files to this computer. */
async function givesItsFiles() {
  await into('C', 'system');
  for (let taps = 0; taps < 7; taps += 1) await hands('C', 'select/build-number');
  await hands('C', 'select/debugging');
  await hands('C', 'select/allow');
}

/** A run that changes no software, or none at all, has come to its end. */
const over = (page) => expect(page.getByRole('heading', { name: /^Done\./ })).toBeVisible();

test.beforeEach(async ({ page }) => {
  watch(page);
  await signIn(page);
});

test('what was saved before a wipe is offered at the check, and goes back to the same phone', { tag: '@turn-11' }, async ({ page }) => {
  await givesItsFiles();
  const before = await files();
  expect(before.length).toBeGreaterThan(0);
  await page.goto(web('/jobs/new'));
  await page.locator('#ticket').fill('0790');
  await page.locator('#description').fill('blue, cracked corner');
  await page.locator('#code').fill('HX204C');
  await page.locator('#complaint').fill('To be set up as new, with its photos back on it afterwards.');
  await page.locator('[name="Form.OwnershipStated"]').first().check();
  await act(page, 'Take it in');
  await expect(page).toHaveURL(/find-out$/);
  await read(page, '0790', 'C');

  await page.goto(web('/jobs/0790/plan'));
  await act(page, 'Take: Data saved first, nothing written');
  await begin(page, '0790');
  await wanted(page, 'Compare the phone with its ticket');
  await page.locator('#typed').fill('HXC70121');
  await act(page, 'It is this phone');
  await expect(page.getByText('is not the serial of this job')).toBeVisible();
  await page.locator('#typed').fill('HXC70112');
  await act(page, 'It is this phone');
  await over(page);

  await page.getByRole('link', { name: 'To the plan' }).click();
  // Enter goes on; it does not begin again what is done.
  await expect(page.getByRole('button', { name: 'It is done: choose what follows' })).toBeVisible();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'No package is chosen' })).toBeVisible();
  await act(page, 'Take: Wipe only, nothing written');
  await begin(page, '0790');
  await wanted(page, 'Compare the phone with its ticket');
  await page.locator('#typed').fill('HXC70112');
  await act(page, 'It is this phone');
  await wanted(page, 'Bring it into stock recovery by keys');
  await into('C', 'stock-recovery');
  await inRecovery(page, 'Choose “Wipe data”');
  for (const [entry, button] of [['Wipe data', 'wipe-data'], ['Wipe cache', 'wipe-cache'], ['Restart the system', 'restart']]) {
    await wanted(page, `Choose “${entry}”`);
    await hands('C', `select/${button}`);
    await page.keyboard.press('Enter');
  }
  await over(page);
  await expect.poll(async () => (await phone('C')).mode).toBe('setup-wizard');
  expect(await files()).toEqual([]);

  await page.goto(web('/jobs/0790/check'));
  await page.getByRole('button', { name: 'its set-up' }).click();
  await expect(page.getByText(`${before.length} saved files go back to the phone.`)).toBeVisible();
  await look(page, 'check-data-back');
  await act(page, 'Plan bringing them back');
  // Set up anew it does not know this computer yet.
  await expect(page.getByText('The data go back to a phone that runs', { exact: false })).toBeVisible();
  await givesItsFiles();
  await read(page, '0790', 'C');
  await page.goto(web('/jobs/0790/plan'));
  await expect(page.getByRole('heading', { name: /^Saved data brought back/ })).toBeVisible();
  await begin(page, '0790');
  await over(page);
  const after = await files();
  for (const file of before) expect(after).toContainEqual(file);
  await expect(page.getByText('What was saved is on the phone again.')).toBeVisible();
  await look(page, 'write-data-back');
  await page.getByRole('link', { name: 'To the hand-back' }).click();
  await handBack(page, '0790');
});
