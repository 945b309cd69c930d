// Practice as a beginner does it: keys held on the keyboard, a screen read, trouble met, and what was lost said with its reason.
import { expect, test } from './world.mjs';
import { act, look, signIn, watch, web } from './steps.mjs';

test.describe.configure({ mode: 'serial' });

const points = (page) => page.locator('.notice b').first();

test('a phone is brought into its write mode by held keys, and what went wrong is said', { tag: '@turn-6' }, async ({ page }) => {
  watch(page);
  await signIn(page, 'bench');
  await page.goto(web('/'));
  await page.keyboard.press('g');
  await page.keyboard.press('t');
  await expect(page.getByRole('heading', { name: 'Practice', exact: true })).toBeVisible();
  await look(page, 'practice-first');
  // Something new comes first, one key away.
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/\/practice\/[a-z0-9-]+$/);

  await page.goto(web('/practice/hx204-off-to-bootloader'));
  await look(page, 'practice-keys');
  const shows = page.locator('[x-data=trial]');
  await page.keyboard.down('ArrowDown');
  await page.keyboard.down('p');
  // It is over as soon as its menu shows.
  await expect(page).toHaveURL(/practice\/runs\/\d+/);
  await page.keyboard.up('p');
  await page.keyboard.up('ArrowDown');
  await expect(points(page)).toContainText(/of 100 points/);
  await expect(page.locator('.notice')).toContainText('Passed.');

  // With one key alone the phone just starts: it is given up, after a hint.
  await page.goto(web('/practice/hx204-off-to-bootloader'));
  await page.getByRole('button', { name: /^Show me how/ }).click();
  await expect(page.locator('.words')).toContainText('Volume down');
  await page.keyboard.down('p');
  await expect(shows).toHaveAttribute('data-mode', /starting|running/);
  await page.keyboard.up('p');
  await page.getByRole('button', { name: 'I give up' }).click();
  await expect(page).toHaveURL(/practice\/runs\/\d+/);
  await expect(page.locator('.notice')).toContainText('70 are needed');
  await expect(page.locator('table.list')).toContainText('The phone is not in fastboot mode.');
  await expect(page.locator('table.list')).toContainText('A hint was asked for.');
  await look(page, 'practice-run');
});

test('a screen is read, and trouble is met, by keyboard alone', { tag: '@turn-7' }, async ({ page }) => {
  watch(page);
  await signIn(page, 'bench');
  await page.goto(web('/practice/screen-hx204-fastboot'));
  await look(page, 'practice-question');
  await page.getByRole('radio', { name: 'fastboot mode', exact: true }).focus();
  await page.keyboard.press('Space');
  await page.keyboard.press('Tab');
  await page.keyboard.press('Enter');
  await expect(points(page)).toContainText('100 of 100 points');

  // Whoever pulls the cable in an update ends it with nothing.
  await page.goto(web('/practice/trouble-update-running-tn63e'));
  await page.getByRole('radio', { name: /^Yes/ }).check();
  await act(page, 'That is it');
  await expect(points(page)).toContainText('0 of 100 points');
  await expect(page.locator('.notice')).toContainText('Safety comes first');
  // Another one of its kind is another phone, or another screen, and can be answered.
  await page.getByRole('link', { name: 'Another of its kind' }).click();
  await expect(page.getByRole('radio')).toHaveCount(2);
  await page.getByRole('radio').last().check();
  await act(page, 'That is it');
  await expect(points(page)).toContainText('of 100 points');

  // What failed is due again today; what was passed is not. Deleted, nothing is left of either.
  await page.goto(web('/practice'));
  await look(page, 'practice');
  const row = (title) => page.locator('li').filter({ hasText: title });
  await expect(row('An update that runs: Tern 6').first()).toContainText('due');
  await expect(row('Which screen is this: Cairn').first()).toContainText('tomorrow');
  await page.getByRole('link', { name: 'My recipes and classes' }).click();
  await expect(page.locator('h1')).toHaveText('My recipes and classes');
  await look(page, 'practice-mine');
  await act(page, 'Delete all that I practised');
  await page.goto(web('/practice'));
  await expect(row('An update that runs: Tern 6').first()).toContainText('new');
});

// Everything that a station of a whole job asks, answered as it is right.
const answers = { 'Find out': ['Wrong or damaged system'], Match: [/HX204-15\.26w10-7\.r3\.tar/], Way: ['Factory set'], Check: [/^Nothing: it is/], 'Hand back': [/erased/] };
const stage = (page) => page.locator('.job-stages .here');

async function answer(page) {
  const at = await stage(page).innerText();
  if (at.endsWith('Plan')) for (const gate of await page.locator('.gate').all()) await gate.getByRole('radio').first().check();
  else for (const label of answers[at]) await page.getByRole('radio', { name: label }).check();
  await act(page, at.endsWith('Plan') ? 'Begin the write' : 'Go on');
  await expect(stage(page).or(page.locator('.notice'))).not.toHaveText(at);
}

async function intoFastboot(page) {
  const shows = page.locator('[x-data=trial]');
  await expect(shows).toHaveAttribute('data-mode', /boot loop/);
  await page.keyboard.down('p');
  await page.keyboard.down('ArrowDown');
  // It is there as soon as its menu shows, and the next part comes.
  await expect(stage(page)).toHaveText('Match');
  await page.keyboard.up('p');
  await page.keyboard.up('ArrowDown');
}

test('a whole job goes from what is wrong with it to its hand-back, by keyboard and held keys', { tag: '@turn-11' }, async ({ page }) => {
  watch(page);
  await signIn(page, 'bench');
  await page.goto(web('/practice/job-f-factory-set'));
  await page.keyboard.press('Enter');
  await expect(stage(page)).toHaveText('Find out');
  await look(page, 'practice-job');
  await answer(page);
  await intoFastboot(page);
  await expect(stage(page)).toHaveText('Match');
  // Left here, it goes on here.
  await page.goto(web('/practice/mine'));
  await page.getByRole('link', { name: 'It loops since a custom kernel' }).click();
  await expect(stage(page)).toHaveText('Match');
  await answer(page);
  await answer(page);
  await look(page, 'practice-plan');
  await answer(page);
  await expect(stage(page)).toHaveText('Write');
  await expect(page.locator('.partition-strip')).toBeVisible();
  await page.keyboard.press('Enter');
  // Its cable is in: nothing is wanted of hands, and it comes to its end.
  await expect(page.locator('p.lead')).toContainText('Do not move');
  await look(page, 'practice-write');
  await expect(stage(page)).toHaveText('Check');
  await answer(page);
  await answer(page);
  await expect(page).toHaveURL(/practice\/runs\/\d+/);
  await expect(page.locator('.notice')).toContainText('Passed.');
  // What hands did is drawn on the score that asked for it, and can be seen once more.
  await expect(page.locator('.key-score .played rect').first()).toBeVisible();
  const replay = page.locator('[x-data=practiceReplay]').first();
  await replay.getByLabel('Moment').press('End');
  await expect(replay).toHaveAttribute('data-mode', /fastboot/);
  await replay.getByLabel('Moment').press('Home');
  await expect(replay).toHaveAttribute('data-mode', /boot loop/);
  await look(page, 'practice-job-run');
});

test('a cable pulled in a write of practice ends it, with the moment and what it would have cost', { tag: '@turn-11' }, async ({ page }) => {
  watch(page);
  await signIn(page, 'bench');
  // A write takes seconds, and this machine may rest for as long: the page's clock goes on only as far as is asked.
  await page.clock.install();
  // One whose phone stands in its write mode already, and wants no finding.
  await page.goto(web('/practice/job-m-recovery-only'));
  await act(page, 'Begin');
  await page.getByRole('radio', { name: /recovery\.img/ }).check();
  await act(page, 'Go on');
  await page.getByRole('radio', { name: 'Stock recovery only' }).check();
  await act(page, 'Go on');
  await answer(page);
  await page.clock.pauseAt(Date.now() + 3_600_000);
  await act(page, 'Begin');
  await expect(async () => {
    await page.clock.runFor(100);
    await page.waitForFunction(() => !window.Alpine.$data(document.querySelector('[x-data=trial]')).sending);
    expect(await page.locator('h2.step').textContent()).toContain('Writing recovery');
  }).toPass({ intervals: [0] });
  await page.keyboard.press('c');
  await page.clock.resume();
  await expect(page).toHaveURL(/practice\/runs\/\d+/);
  await expect(points(page)).toContainText('0 of 100 points');
  await expect(page.locator('table.list').first()).toContainText('The cable came out during “Write recovery”');
  await page.locator('[data-moment]').first().click();
  await expect(page.locator('[x-data=practiceReplay] .lead').last()).toContainText(/ended early/);
});
