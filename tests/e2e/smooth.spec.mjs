// Demo jobs the smooth way, of which other walks show what goes wrong: in a world of their own, in which every job is as it first came.
import { expect, test } from './world.mjs';
import { aim, begin, choose, control, done, handBack, hands, inRecovery, into, libraryIsSeen, note, noteAtCheck, phone, read, wanted } from './bench.mjs';
import { act, signIn, watch, web } from './steps.mjs';

test.use({ round: 'smooth' });

test.beforeEach(async ({ page }) => {
  watch(page);
  await signIn(page);
  await libraryIsSeen(page);
});

/** Says at the check that it came up, and what it shows. */
async function cameUp(page, job, shows) {
  await page.goto(web(`/jobs/${job}/check`));
  await page.getByRole('button', { name: shows }).click();
}

async function readAtCheck(page, port) {
  await act(page, `Read at port ${port}`);
  await expect(page.getByText(new RegExp(`Read \\d+ facts at port ${port}`))).toBeVisible();
}

test('demo job 1, smooth: the bundle with the keep-data pack, and the photos are still there', { tag: '@turn-2' }, async ({ page }) => {
  await into('H', 'download');
  await read(page, '0418', 'H');
  await choose(page, '0418', 'TN63E.5.2608.WHM2');
  await begin(page, '0418');
  await done(page);
  await expect.poll(async () => (await phone('H')).mode).toBe('system');
  await cameUp(page, '0418', 'the running system');
  await noteAtCheck(page, 'build', 'TN63E.5.2608.WHM2');
  await noteAtCheck(page, 'radio-build', 'TN63E-R-2608-N');
  await into('H', 'download');
  await readAtCheck(page, 'H');
  await expect(page.locator('.action-bar').getByText(/^(All as|As) intended/)).toBeVisible();
  await handBack(page, '0418');
});

test('demo job 5, smooth: keys held from the loop, the set written once with the data kept, to the hand-back', { tag: '@turn-2' }, async ({ page }) => {
  await into('B', 'fastboot');
  await read(page, '0424', 'B');
  await choose(page, '0424', 'HX204/15.26w10-7.r3');
  await page.goto(web('/jobs/0424/plan'));
  await expect(page.getByRole('heading', { name: /^Factory set, data kept/ })).toBeVisible();
  await begin(page, '0424');
  await done(page);
  await expect.poll(async () => (await phone('B')).mode).toBe('system');
  await cameUp(page, '0424', 'the running system');
  await into('B', 'fastboot');
  await readAtCheck(page, 'B');
  await expect(page.locator('.action-bar').getByText(/^(All as|As) intended/)).toBeVisible();
  await handBack(page, '0424');
});

test('demo job 8, smooth: the update lies on the card as it should, and recovery takes it', { tag: '@turn-2' }, async ({ page }) => {
  await note(page, '0422', 'build', 'OB17_2.6.112_r04_DNM', 'Settings');
  await hands('M', 'copy-to-card?from=fell-full-2.6.118.zip&to=fell-update.zip');
  const files = await (await control('M/files', 'GET')).json();
  for (const [fact, value] of [['card-place', 'root'], ['card-file-name', 'fell-update.zip'], ['card-file-digest', files.card[0].sha256], ['card-free-mb', '900'], ['battery-percent', '79'], ['recovery', 'stock']]) await note(page, '0422', fact, value);
  await choose(page, '0422', 'OB17_2.6.118_r04_DNM');
  await begin(page, '0422');
  await wanted(page, 'Copy it to the root of “Card 2”');
  await act(page, 'It lies there');
  await wanted(page, 'Compare the phone with its ticket');
  await page.locator('#typed').fill('OBM20422');
  await act(page, 'It is this phone');
  await wanted(page, 'Bring it into stock recovery by keys');
  await into('M', 'stock-recovery');
  await inRecovery(page, 'Choose “Put in an update from the card”');
  await hands('M', 'select/card');
  await act(page, 'The bar moves');
  await done(page);
  await expect.poll(async () => (await phone('M')).mode).toBe('system');
  await cameUp(page, '0422', 'the running system');
  await noteAtCheck(page, 'model-code', 'OB17');
  await noteAtCheck(page, 'build', 'OB17_2.6.118_r04_DNM');
  await expect(page.locator('.action-bar').getByText(/^(All as|As) intended/)).toBeVisible();
  await handBack(page, '0422');
});

test('demo job 6, smooth: one patched part, one bundle, root as before', { tag: '@turn-2' }, async ({ page }) => {
  const candidate = async (file) => expect(async () => {
    await page.goto(web('/jobs/0419/match'));
    await page.locator('tbody.candidate', { hasText: file }).getByRole('link').first().click({ timeout: 2_000 });
    await page.getByRole('button', { name: /^Use this package/ }).last().click({ timeout: 2_000 });
  }).toPass();
  await read(page, '0419', 'K');
  await candidate('TN63E_WHM_r5_full.zip');
  await begin(page, '0419');
  await wanted(page, 'Have root manager 8.2 on the phone patch the copy');
  await hands('K', 'patch?file=system-part.tar');
  await act(page, 'A patched copy lies beside it');
  await expect(page.getByRole('heading', { name: 'Done. Nothing on the phone was changed.' })).toBeVisible();
  await into('K', 'download');
  await read(page, '0419', 'K');
  await candidate('-8.2.tar');
  await begin(page, '0419');
  await done(page);
  await expect.poll(async () => (await phone('K')).mode).toBe('system');
  await cameUp(page, '0419', 'the running system');
  await readAtCheck(page, 'K');
  await into('K', 'download');
  await readAtCheck(page, 'K');
  await expect(page.locator('.action-bar').getByText(/^(All as|As) intended/)).toBeVisible();
  await handBack(page, '0419');
});

test('demo job 4 to its right end: written, one boot, checked, locked again with the data erased, checked again', { tag: '@turn-2' }, async ({ page }) => {
  await read(page, '0421', 'A');
  await choose(page, '0421', 'HX204/15.26w10-7.r3');
  await begin(page, '0421');
  await done(page);
  await expect.poll(async () => (await phone('A')).mode).toBe('setup-wizard');
  await cameUp(page, '0421', 'its set-up');
  await into('A', 'fastboot');
  await readAtCheck(page, 'A');
  await expect(page.locator('.action-bar').getByText(/^(All as|As) intended/)).toBeVisible();

  await aim(page, '0421', 'its lock closed again');
  await page.goto(web('/jobs/0421/plan'));
  await expect(page.getByRole('heading', { name: /^Close the lock/ })).toBeVisible();
  await begin(page, '0421');
  await wanted(page, 'Compare the phone with its ticket');
  await page.locator('#typed').fill('HXA70431');
  await act(page, 'It is this phone');
  await expect(page.locator('[data-waits=yes] .hands-wanted h2')).toBeVisible();
  await hands('A', 'into/lock-change');
  await page.locator('#shows').selectOption('lock-change');
  await act(page, 'It shows this');
  await wanted(page, 'Close the lock');
  await hands('A', 'select/change');
  await act(page, 'It restarts');
  await done(page);
  await expect.poll(async () => (await phone('A')).mode).toBe('setup-wizard');
  await cameUp(page, '0421', 'its set-up');
  await into('A', 'fastboot');
  expect((await phone('A')).screen).toContain('locked');
  await readAtCheck(page, 'A');
  await expect(page.locator('.action-bar').getByText(/^(All as|As) intended/)).toBeVisible();
  await handBack(page, '0421');
});
