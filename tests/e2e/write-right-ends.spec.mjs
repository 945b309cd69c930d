// Demo jobs whose right end is another one than the first write: none at all, one only by another school, one before the lock is closed.
// Its name lets it come after the walks that look at these jobs as they first came: a worker has one world for all of its files.
import { expect, test } from './world.mjs';
import { begin, choose, control, done, handBack, hands, inRecovery, into, libraryIsSeen, note, noteAtCheck, phone, read, wanted } from './bench.mjs';
import { act, look, signIn, watch, web } from './steps.mjs';

test.beforeEach(async ({ page }) => {
  watch(page);
  await signIn(page);
  await libraryIsSeen(page);
});

test('demo job 2: another region is a stop by shop rule, and is written under another school with its risk named', { tag: '@turn-8' }, async ({ page }) => {
  await into('I', 'download');
  await read(page, '0415', 'I');
  const korrow = page.locator('tbody.candidate', { hasText: 'TN41E.2.2624.KRW1' });
  await expect(async () => {
    await page.goto(web('/jobs/0415/match'));
    await expect(korrow).toContainText('Stopped by shop rule: own region only.', { timeout: 2_000 });
  }).toPass();
  await page.locator('#school-region summary').click();
  await page.locator('#school-region').getByText('same group').click();
  await page.locator('#reason-region').fill('The owner lives in Korrow now, and knows that its data may be lost.');
  await page.locator('#school-region').getByRole('button', { name: 'Apply' }).click();
  await expect(korrow).toContainText('Care');
  await note(page, '0415', 'build', 'TN41E.2.2610.WHM1', 'Settings');
  await choose(page, '0415', 'TN41E.2.2624.KRW1');
  await page.goto(web('/jobs/0415/plan'));
  await expect(page.getByRole('heading', { name: /^Bundle/ })).toBeVisible();
  await begin(page, '0415');
  await done(page);
  await expect.poll(async () => (await phone('I')).mode).toBe('system');
  await page.goto(web('/jobs/0415/check'));
  await page.getByRole('button', { name: 'the running system' }).click();
  await noteAtCheck(page, 'build', 'TN41E.2.2624.KRW1');
  await noteAtCheck(page, 'radio-build', 'TN41E-R-2624-N');
  await into('I', 'download');
  await act(page, 'Read at port I');
  await expect(page.locator('.action-bar').getByText(/^(All as|As) intended/)).toBeVisible();
  await handBack(page, '0415');
});

test('demo job 3: the bundle on the stick is for another phone, and it goes back as it came', async ({ page }) => {
  await page.goto(web('/jobs/0416/match'));
  await expect(page.getByText('each is for another phone')).toBeVisible();
  await page.getByRole('link', { name: 'TN41E.2.2610.WHM1' }).first().click();
  await expect(page.getByRole('button', { name: /^(Use this package|Plan with it)/ })).toHaveCount(0);
  await handBack(page, '0416');
  expect((await phone('J')).mode).toBe('system');
});

test('demo job 13: proved to be stock by a write and one boot, then locked, and the switch turned off', { tag: '@turn-7' }, async ({ page }) => {
  // Who forgets this stands before the set-up with the owner's account afterwards.
  await hands('G', 'select/sign-out');
  await into('G', 'download');
  await read(page, '0428', 'G');
  await choose(page, '0428', 'TN63E.5.2608.WHM2');
  await begin(page, '0428');
  await done(page);
  await expect.poll(async () => (await phone('G')).mode).toBe('setup-wizard');
  await page.goto(web('/jobs/0428/check'));
  await page.getByRole('button', { name: 'its set-up' }).click();
  await noteAtCheck(page, 'build', 'TN63E.5.2608.WHM2');
  await noteAtCheck(page, 'radio-build', 'TN63E-R-2608-N');
  await into('G', 'download');
  await act(page, 'Read at port G');
  await expect(page.getByText(/Read \d+ facts at port G/)).toBeVisible();

  // The write made it void, and the lock-change screen wants it: hidden until the phone is online and has asked for an update.
  await into('G', 'system');
  await note(page, '0428', 'unlock-permission', 'greyed', 'Settings');
  await page.goto(web('/jobs/0428/plan'));
  await expect(page.getByRole('heading', { name: /^Close the lock/ })).toBeVisible();
  await begin(page, '0428');
  await wanted(page, 'Compare the phone with its ticket');
  await page.locator('#typed').fill('TNG60214');
  await act(page, 'It is this phone');
  await wanted(page, 'Bring it into the lock-change screen by keys');
  await hands('G', 'into/lock-change');
  await page.locator('#shows').selectOption('lock-change');
  await act(page, 'It shows this');
  await wanted(page, 'Close the lock');
  // This one is answered by a key.
  await hands('G', 'keys/volume-up/down');
  await hands('G', 'keys/volume-up/up');
  await act(page, 'It restarts');
  await done(page);
  await expect.poll(async () => (await phone('G')).mode).toBe('setup-wizard');
  await page.goto(web('/jobs/0428/check'));
  await page.getByRole('button', { name: 'its set-up' }).click();
  // The switch hides until it was online and has asked for an update, sometimes until one more start; being on does not mean unlocked.
  await into('G', 'system');
  await hands('G', 'select/update-check');
  await expect.poll(async () => (await phone('G')).lines.some((line) => line.includes('to go'))).toBe(false);
  await hands('G', 'select/restart');
  await into('G', 'system');
  for (let taps = 0; taps < 7; taps += 1) await hands('G', 'select/build-number');
  await hands('G', 'select/permission');
  expect((await phone('G')).screen).toContain('permission to change the lock: off');
  await noteAtCheck(page, 'unlock-permission', 'off');
  await into('G', 'download');
  await act(page, 'Read at port G');
  await expect(page.locator('.action-bar').getByText(/^(All as|As) intended/)).toBeVisible();
  await handBack(page, '0428');
});

test('a phone that loops on the data that stayed: a restart, then the wipe that was agreed on, each in the journal', { tag: '@turn-1' }, async ({ page }) => {
  await hands('A', 'renew');
  await page.goto(web('/jobs/new'));
  await page.locator('#ticket').fill('0788');
  await page.locator('#description').fill('grey, cracked back');
  await page.locator('#complaint').fill('Wants the maker’s own system again, and the photos kept');
  await page.locator('#code').fill('HX204');
  await page.locator('#source').selectOption('Label');
  await page.locator('#data').selectOption('Keep');
  await page.getByRole('checkbox', { name: /The customer states/ }).check();
  await act(page, 'Take it in');
  await expect(page).toHaveURL(/0788\/find-out$/);
  await into('A', 'fastboot');
  await read(page, '0788', 'A');
  await choose(page, '0788', 'HX204/15.26w10-7.r3');
  await page.goto(web('/jobs/0788/plan'));
  await expect(page.getByRole('heading', { name: /^Factory set, data kept/ })).toBeVisible();
  await expect(page.getByText('If it loops afterwards, as agreed')).toBeVisible();
  await begin(page, '0788');
  await done(page);
  await expect(page.getByRole('heading', { name: 'On its way up' })).toBeVisible();
  await look(page, 'way-up');
  await expect.poll(async () => (await phone('A')).mode).toBe('boot-loop');
  await page.getByRole('button', { name: 'that it restarted' }).click();
  await page.getByRole('button', { name: 'a loop' }).click();

  await expect(page.getByRole('heading', { name: 'It does not come up: what is tried, in order' })).toBeVisible();
  await look(page, 'ladder');
  await page.getByRole('button', { name: 'Force a restart' }).click();
  await wanted(page, 'Force a restart');
  await hands('A', 'keys/power/down');
  await expect.poll(async () => (await phone('A')).stage).toBe('dark');
  await hands('A', 'keys/power/up');
  await act(page, 'It goes dark');
  await done(page);
  await expect.poll(async () => (await phone('A')).mode).toBe('boot-loop');
  await page.getByRole('button', { name: 'a loop' }).click();

  await page.getByRole('listitem').filter({ hasText: 'Wipe the data in recovery' }).getByRole('link', { name: 'this one instead' }).click();
  await expect(page.getByRole('heading', { name: 'Wipe the data in recovery, as agreed' })).toBeVisible();
  for (const box of await page.locator('form[action*=Climb] input[type=checkbox]').all()) await box.check();
  await page.getByRole('button', { name: 'Erase the data by hand' }).click();
  await wanted(page, 'Compare the phone with its ticket');
  await page.locator('#typed').fill('HXA70431');
  await act(page, 'It is this phone');
  await wanted(page, 'Bring it into');
  await hands('A', 'into/stock-recovery');
  await page.locator('#shows').selectOption('stock-recovery');
  await act(page, 'It shows this');
  await wanted(page, 'Choose “Wipe data”');
  await hands('A', 'select/wipe-data');
  await act(page, 'It says that it is done');
  await wanted(page, 'Choose “Wipe cache”');
  await hands('A', 'select/wipe-cache');
  await act(page, 'It says that it is done');
  await wanted(page, 'Choose “Restart');
  await hands('A', 'select/restart');
  await act(page, 'It restarts');
  await done(page);
  await expect.poll(async () => (await phone('A')).mode).toBe('setup-wizard');
  await page.goto(web('/jobs/0788/check'));
  await page.getByRole('button', { name: 'its set-up' }).click();
  await into('A', 'fastboot');
  await act(page, 'Read at port A');
  await expect(page.locator('.action-bar').getByText(/^(All as|As) intended/)).toBeVisible();
  await page.goto(web('/jobs/0788/hand-back'));
  await expect(page.getByText('Force a restart, after a loop.')).toBeVisible();
  await expect(page.getByText('Agreed wipe after a loop.')).toBeVisible();
  await handBack(page, '0788');
});

test('a held restart is forgotten: it starts before its data are wiped, and is led into its recovery from there', { tag: '@turn-10' }, async ({ page }) => {
  await hands('H', 'renew');
  await page.goto(web('/jobs/new'));
  await page.locator('#ticket').fill('0789');
  await page.locator('#description').fill('black, no case');
  await page.locator('#complaint').fill('Loops. Nothing on it is wanted.');
  await page.locator('#code').fill('TN63E');
  await page.locator('#source').selectOption('Label');
  await page.locator('#data').selectOption('MayGo');
  await page.getByRole('checkbox', { name: /The customer states/ }).check();
  await act(page, 'Take it in');
  await expect(page).toHaveURL(/0789\/find-out$/);
  await note(page, '0789', 'region', 'WHM', 'Label');
  await into('H', 'download');
  await read(page, '0789', 'H');
  await choose(page, '0789', 'TN63E.5.2608.WHM2');
  await page.goto(web('/jobs/0789/plan'));
  await page.keyboard.press('w');
  await act(page, 'Take: Bundle, restart held, then wiped');
  await expect(page.getByRole('heading', { name: /^Bundle, restart held, then wiped/ })).toBeVisible();
  await begin(page, '0789');
  await wanted(page, 'Bring it into stock recovery by keys');
  // Somebody restarts it as ever.
  await control('H/into/system', 'POST');
  await expect.poll(async () => (await phone('H')).mode).toBe('setup-wizard');
  await page.locator('#shows').selectOption('setup-wizard');
  await act(page, 'It shows this');
  await expect(page.locator('[data-waits=yes] [data-journal]')).toContainText('the phone shows set-up');
  await wanted(page, 'Bring it into stock recovery by keys');
  await look(page, 'hands-held');
  await into('H', 'stock-recovery');
  await inRecovery(page, 'Choose “Wipe data”');
  for (const [entry, button] of [['Wipe data', 'wipe-data'], ['Wipe cache', 'wipe-cache'], ['Restart the system', 'restart']]) {
    await wanted(page, `Choose “${entry}”`);
    await hands('H', `select/${button}`);
    await page.keyboard.press('Enter');
  }
  await done(page);
  await expect.poll(async () => (await phone('H')).mode).toBe('setup-wizard');
  await page.goto(web('/jobs/0789/check'));
  await page.getByRole('button', { name: 'its set-up' }).click();
  await noteAtCheck(page, 'build', 'TN63E.5.2608.WHM2');
  await noteAtCheck(page, 'radio-build', 'TN63E-R-2608-N');
  await into('H', 'download');
  await act(page, 'Read at port H');
  await expect(page.locator('.action-bar').getByText(/^(All as|As) intended/)).toBeVisible();
  await handBack(page, '0789');
});
