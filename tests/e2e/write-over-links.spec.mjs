// Demo jobs whose plans go over other links than the bootloader's, or by the storage card, from where the phone lies to the hand-back.
// Its name lets it come after the walks that look at these jobs as they first came: a worker has one world for all of its files.
import { expect, test } from './world.mjs';
import { aim, begin, choose, control, done, handBack, hands, into, note, noteAtCheck, phone, read, wanted } from './bench.mjs';
import { act, look, signIn, watch, web } from './steps.mjs';

test.beforeEach(async ({ page }) => {
  watch(page);
  await signIn(page);
});

test('demo job 8: the update on the card is put right; recovery is missed, the wrong entry chosen and the card forgotten, once each', { tag: '@turn-5' }, async ({ page }) => {
  await note(page, '0422', 'build', 'OB17_2.6.112_r04_DNM', 'Settings');
  await hands('M', 'copy-to-card?from=fell-full-2.6.118.zip&to=fell-update.zip');
  const files = await (await control('M/files', 'GET')).json();
  for (const [fact, value] of [['card-place', 'root'], ['card-file-name', 'fell-update.zip'], ['card-file-digest', files.card[0].sha256], ['card-free-mb', '900'], ['battery-percent', '79'], ['recovery', 'stock']]) await note(page, '0422', fact, value);
  await choose(page, '0422', 'OB17_2.6.118_r04_DNM');
  await page.goto(web('/jobs/0422/plan'));
  await expect(page.getByRole('heading', { name: /^Update from the card/ })).toBeVisible();
  await begin(page, '0422');
  await wanted(page, 'Copy it to the root of “Card 2”');
  await act(page, 'It lies there');
  await wanted(page, 'Compare the phone with its ticket');
  await page.locator('#typed').fill('OB');
  await act(page, 'It is this phone');
  await expect(page.getByText('Type the serial as the phone or its label shows it.')).toBeVisible();
  await page.locator('#typed').fill('obm-20422');
  await act(page, 'It is this phone');
  await wanted(page, 'Bring it into stock recovery by keys');
  await look(page, 'hands-score');
  // Recovery was missed, and it started its system as ever: the same step goes on from there.
  await page.locator('#shows').selectOption('system');
  await act(page, 'It shows this');
  await expect(page.locator('[data-waits=yes] [data-journal]')).toContainText('the phone shows running system');
  await wanted(page, 'Bring it into stock recovery by keys');
  await hands('M', 'into/stock-recovery');
  await page.locator('#shows').selectOption('stock-recovery');
  await act(page, 'It shows this');
  await wanted(page, 'Choose “Put in an update from the card”');
  // The wrong entry: it restarts, and is led into its recovery again.
  await hands('M', 'select/restart');
  await expect.poll(async () => (await phone('M')).mode).toBe('system');
  await page.locator('#shows').selectOption('system');
  await act(page, 'It shows this');
  await wanted(page, 'Choose “Put in an update from the card”');
  await hands('M', 'into/stock-recovery');
  await page.locator('#shows').selectOption('stock-recovery');
  await act(page, 'It shows this');
  await wanted(page, 'Choose “Put in an update from the card”');
  await hands('M', 'card');
  await hands('M', 'select/card');
  expect((await phone('M')).screen).toContain('No card.');
  await act(page, 'It says that it was not accepted');
  await wanted(page, 'Choose “Put in an update from the card”');
  await hands('M', 'card');
  await hands('M', 'select/card');
  await page.keyboard.press('1');
  await done(page);
  await expect.poll(async () => (await phone('M')).mode).toBe('system');
  await page.goto(web('/jobs/0422/check'));
  await page.getByRole('button', { name: 'the running system' }).click();
  await noteAtCheck(page, 'model-code', 'OB17');
  await noteAtCheck(page, 'build', 'OB17_2.6.118_r04_DNM');
  await expect(page.locator('.action-bar').getByText(/^(All as|As) intended/)).toBeVisible();
  await handBack(page, '0422');
});

test('demo job 7: its own backup, one boot, stock recovery, the lock closed; each proved', { tag: '@turn-9' }, async ({ page }) => {
  await into('L', 'custom-recovery');
  await read(page, '0420', 'L');
  await choose(page, '0420', 'OB17_2.6.112_r04_DNM');
  await page.goto(web('/jobs/0420/plan'));
  await expect(page.getByRole('heading', { name: /^Its own backup, restored/ })).toBeVisible();
  await begin(page, '0420');
  await wanted(page, 'Choose “Restart: system”');
  await hands('L', 'select/restart');
  await act(page, 'It restarts');
  await done(page);
  await expect.poll(async () => (await phone('L')).mode).toBe('system');
  await page.goto(web('/jobs/0420/check'));
  await page.getByRole('button', { name: 'the running system' }).click();
  await noteAtCheck(page, 'build', 'OB17_2.6.112_r04_DNM');
  await into('L', 'fastboot');
  await act(page, 'Read at port L');
  await expect(page.locator('.action-bar').getByText(/^(All as|As) intended/)).toBeVisible();

  await aim(page, '0420', 'stock recovery alone');
  await choose(page, '0420', 'recovery.img');
  await begin(page, '0420');
  await wanted(page, 'Bring it into stock recovery by keys');
  await expect(page.locator('.heard')).toContainText('Port L hears this phone in fastboot mode, not yet in stock recovery');
  await look(page, 'hands-heard');
  // Nobody presses a button: the port hears the very phone in the wanted mode.
  await act(page, 'Give the command from here');
  await expect(page.getByRole('status').filter({ hasText: 'gave the command' })).toBeVisible();
  await expect.poll(async () => (await phone('L')).mode).toBe('stock-recovery');
  if ((await phone('L')).cable !== 'computer') await hands('L', 'cable');
  await wanted(page, 'Choose “Restart the system”');
  await expect(page.locator('[data-journal]')).toContainText('the link: the phone shows stock recovery; done');
  await hands('L', 'select/restart');
  await act(page, 'It restarts');
  await done(page);
  await expect.poll(async () => (await phone('L')).mode).toBe('system');
  await page.goto(web('/jobs/0420/check'));
  await page.getByRole('button', { name: 'the running system' }).click();
  await noteAtCheck(page, 'recovery', 'stock');
  await into('L', 'fastboot');
  await act(page, 'Read at port L');
  await expect(page.locator('.action-bar').getByText(/^(All as|As) intended/)).toBeVisible();

  await note(page, '0420', 'device-status', 'official');
  await aim(page, '0420', 'its lock closed again');
  await page.goto(web('/jobs/0420/plan'));
  await expect(page.getByRole('heading', { name: /^Close the lock/ })).toBeVisible();
  await begin(page, '0420');
  await wanted(page, 'Compare the phone with its ticket');
  await page.locator('#typed').fill('OBF20117');
  await act(page, 'It is this phone');
  await expect(page.locator('[data-waits=yes] .hands-wanted h2')).toBeVisible();
  await hands('L', 'into/lock-change');
  await page.locator('#shows').selectOption('lock-change');
  await act(page, 'It shows this');
  await wanted(page, 'Close the lock');
  await look(page, 'hands-lock');
  await hands('L', 'select/change');
  await act(page, 'It restarts');
  await done(page);
  await expect.poll(async () => (await phone('L')).mode).toBe('system');
  await page.goto(web('/jobs/0420/check'));
  await page.getByRole('button', { name: 'the running system' }).click();
  await into('L', 'fastboot');
  expect((await phone('L')).screen).toContain('locked');
  await act(page, 'Read at port L');
  await expect(page.getByText(/Read \d+ facts at port L/)).toBeVisible();
  await expect(page.locator('.action-bar').getByText(/^(All as|As) intended/)).toBeVisible();
  await handBack(page, '0420');
});

test('demo job 6: the system part is patched on the phone and brought back, then written with its bundle; root stays', { tag: '@turn-11' }, async ({ page }) => {
  const candidate = async (file) => expect(async () => {
    await page.goto(web('/jobs/0419/match'));
    await page.locator('tbody.candidate', { hasText: file }).getByRole('link').first().click({ timeout: 2_000 });
    await page.getByRole('button', { name: /^Use this package/ }).last().click({ timeout: 2_000 });
  }).toPass();
  await read(page, '0419', 'K');
  // What another version of the manager made is no choice.
  await expect(async () => {
    await page.goto(web('/jobs/0419/match'));
    await expect(page.locator('tbody.candidate', { hasText: 'patched-system-8.1' })).toContainText('It was patched by root manager 8.1; the phone has 8.2', { timeout: 2_000 });
  }).toPass();
  await candidate('TN63E_WHM_r5_full.zip');
  await page.goto(web('/jobs/0419/plan'));
  await expect(page.getByRole('heading', { name: /^Have the system part patched, root kept/ })).toBeVisible();
  await begin(page, '0419');
  await wanted(page, 'Have root manager 8.2 on the phone patch the copy');
  // Said too early: nothing lies there yet, and nothing is lost by it.
  await act(page, 'A patched copy lies beside it');
  await expect(page.getByText('No file that was made of system-part.tar lies on the phone.').first()).toBeVisible();
  await begin(page, '0419');
  await wanted(page, 'Have root manager 8.2 on the phone patch the copy');
  await hands('K', 'patch?file=system-part.tar');
  await act(page, 'A patched copy lies beside it');
  await expect(page.getByRole('heading', { name: 'Done. Nothing on the phone was changed.' })).toBeVisible();
  await expect(page.locator('[data-journal]')).toContainText('system-part-patched-8.2.tar fetched from the phone');

  await into('K', 'download');
  await read(page, '0419', 'K');
  await candidate('-8.2.tar');
  await page.goto(web('/jobs/0419/plan'));
  await expect(page.getByRole('heading', { name: /^Update, root kept/ })).toBeVisible();
  await begin(page, '0419');
  await done(page);
  await expect.poll(async () => (await phone('K')).mode).toBe('system');
  expect((await phone('K')).screen).toContain('root manager 8.2');
  await page.goto(web('/jobs/0419/check'));
  await page.getByRole('button', { name: 'the running system' }).click();
  await act(page, 'Read at port K');
  await expect(page.getByText(/Read \d+ facts at port K/)).toBeVisible();
  // What its bootloader alone tells is read there.
  await into('K', 'download');
  await act(page, 'Read at port K');
  await expect(page.locator('.action-bar').getByText(/^(All as|As) intended/)).toBeVisible();
  await handBack(page, '0419');
});
