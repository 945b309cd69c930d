// Paths beside the factory set: by hands alone, and a bundle over the download link.
import { expect, test } from './world.mjs';
import { control, handBack, hands, libraryIsSeen, noteAtCheck, phone, wanted } from './bench.mjs';
import { act, look, signIn, watch, web } from './steps.mjs';

async function answerGates(page) {
  for (const box of await page.locator('.gate input[type=checkbox]').all()) await box.check();
  for (const id of ['waived', 'owner-knows']) {
    const option = page.locator(`.gate input[value=${id}]`);
    if (await option.count()) await option.check();
  }
}

test.beforeEach(async ({ page }) => {
  watch(page);
  await signIn(page);
});

test('a phone that hangs on stale data is wiped by hands alone, with a wrong screen on the way', { tag: '@turn-10' }, async ({ page }) => {
  await page.goto(web('/jobs/new'));
  await page.locator('#description').fill('green, worn corners');
  await page.locator('#code').fill('HX204');
  await page.locator('#complaint').fill('Starts over and over since the last update was done. Nothing on it is wanted.');
  await page.getByLabel('What does it do now?').selectOption({ label: 'starts again and again' });
  await page.locator('[name="Form.OwnershipStated"]').first().check();
  await act(page, 'Take it in');
  await expect(page).toHaveURL(/find-out$/);
  const job = page.url().replace(/\/find-out$/, '');
  const ticket = job.split('/').at(-1);
  await page.goto(`${job}/plan`);
  await act(page, 'Take: Wipe only, nothing written');
  await expect(page.getByRole('heading', { name: /^Wipe only, nothing written/ })).toBeVisible();
  await expect(page.getByText('Neither boot nor system is written.')).toBeVisible();
  await look(page, 'plan-wipe');
  await page.locator('a[data-primary]').click();
  await answerGates(page);
  await page.locator('#typed').fill(ticket);
  await act(page, 'Begin');

  await expect(page).toHaveURL(/write$/);
  await wanted(page, 'Compare the phone with its ticket');
  await page.locator('#typed').fill('HXA 70999');
  await act(page, 'It is this phone');
  await wanted(page, 'Bring it into stock recovery by keys');
  await look(page, 'hands');
  // It went off instead: the run waits for the same step, and leads on from there.
  await page.locator('#shows').selectOption('off');
  await act(page, 'It shows this');
  await expect(page.locator('[data-waits=yes] [data-journal]')).toContainText('the phone shows off');
  await wanted(page, 'Bring it into stock recovery by keys');
  // Enter is the first answer, and none of the others.
  await page.keyboard.press('Enter');
  await expect(page.locator('[data-waits=yes] [data-journal]')).toContainText('the phone shows fastboot mode');
  await wanted(page, 'Bring it into stock recovery by keys');
  await act(page, 'Recovery.s menu');
  await wanted(page, 'Choose “Wipe data”');
  await page.keyboard.press('Enter');
  await wanted(page, 'Choose “Wipe cache”');
  await page.keyboard.press('Enter');
  await wanted(page, 'Choose “Restart the system”');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'Done. The phone restarts.' })).toBeVisible();
  await page.getByRole('link', { name: 'To the check' }).click();
  await page.getByRole('button', { name: 'its set-up' }).click();
  await expect(page.locator('.action-bar').getByText(/^(All as|As) intended/)).toBeVisible();
  await page.goto(`${job}/hand-back`);
  await expect(page.getByText('Nothing was written; the user data was erased in recovery.')).toBeVisible();
  await handBack(page, ticket);
});

async function intoDownload(page) {
  await hands('H', 'into/download');
  await page.goto(web('/jobs/0418/route'));
  await page.locator('#port').selectOption('H');
  await act(page, 'Read from the phone');
}

async function begin(page) {
  await page.goto(web('/jobs/0418/plan?gates=1'));
  await expect(page.getByRole('heading', { name: /^Bundle, data kept/ })).toBeVisible();
  await answerGates(page);
  await page.locator('#typed').fill('0418');
  await act(page, 'Write');
  await expect(page).toHaveURL(/write$/);
}

test('demo job 1: a bundle that keeps the data, the cable out in the system image, and again to the hand-back', { tag: '@turn-8' }, async ({ page }) => {
  await libraryIsSeen(page);
  await intoDownload(page);
  await expect(page).toHaveURL(/match$/);
  await page.getByRole('link', { name: 'TN63E.5.2608.WHM2' }).first().click();
  await act(page, 'Use this package');
  await page.goto(web('/jobs/0418/plan'));
  await expect(page.getByText('Send the bundle with the keep-data pack')).toBeVisible();
  await expect(page.getByText('If it loops afterwards, as agreed')).toBeVisible();
  await look(page, 'plan-bundle');
  await expect(page.getByText('Set by this way')).toBeVisible();
  await page.goto(web('/jobs/0418/plan/compare'));
  await expect(page.getByRole('row', { name: /^Package TN63E.5.2608.WHM2/ })).toBeVisible();
  await look(page, 'compare-plans');
  // What a shop decided is one click away from where it decides, and open there.
  await page.goto(web('/jobs/0418/plan'));
  await page.keyboard.press('w');
  await page.getByRole('link', { name: /^a hang is judged by/ }).click();
  await expect(page.locator('#school-hang').getByText('ten minutes', { exact: true })).toBeVisible();

  // The boot chain and what is sent before it are 9 MB; then comes the system.
  expect((await control('H/faults', 'PUT', JSON.stringify({ dropAtByte: 11_000_000 }))).ok).toBe(true);
  await begin(page);
  await expect(page.getByText('The write ended early').first()).toBeVisible();
  await expect(page.getByText(/of system had been given to it/).first()).toBeVisible();
  await expect(page.getByText(/Accepted whole: bootchain/).first()).toBeVisible();

  // What was written in part has made the region void; the label still says it.
  await page.goto(web('/jobs/0418/find-out'));
  await page.locator('#name').selectOption('region');
  await page.locator('#from').selectOption('Label');
  await page.locator('#value').fill('WHM');
  await page.locator('.note-fields button').last().click();
  await intoDownload(page);
  await begin(page);
  await expect(page.getByRole('heading', { name: 'Written. The phone restarts.' })).toBeVisible();
  await expect.poll(async () => (await phone('H')).mode).toBe('system');
  await page.goto(web('/jobs/0418/check'));
  await page.getByRole('button', { name: 'the running system' }).click();
  await noteAtCheck(page, 'build', 'TN63E.5.2608.WHM2');
  await hands('H', 'into/download');
  await act(page, 'Read at port H');
  await noteAtCheck(page, 'radio-build', 'TN63E-R-2608-N');
  await expect(page.locator('.action-bar').getByText(/^(All as|As) intended/)).toBeVisible();
  await page.goto(web('/jobs/0418/hand-back'));
  await expect(page.getByText('Accepted by the phone: bootchain', { exact: false })).toBeVisible();
  // Its case and its SIM lie in the bag of its ticket: nothing is forgotten here.
  await act(page, 'Hand it back');
  await expect(page).toHaveURL(/hand-back$/);
  await expect(page.getByText('Handed back. The job is in the logbook.')).toHaveCount(0);
  await handBack(page, '0418');
});
