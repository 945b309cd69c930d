// Practice as a beginner does it: keys held on the keyboard, a screen read, trouble met, and what was lost said with its reason.
import { expect, test } from './world.mjs';
import { act, look, signIn, watch, web } from './steps.mjs';

test.describe.configure({ mode: 'serial' });

const points = (page) => page.locator('.notice b').first();

test('a phone is brought into its write mode by held keys, and what went wrong is said', async ({ page }) => {
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
  await expect(shows).toHaveAttribute('data-mode', /fastboot/);
  await page.keyboard.up('p');
  await page.keyboard.up('ArrowDown');
  await expect(page).toHaveURL(/practice\/runs\/\d+/);
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

test('a screen is read, and trouble is met, by keyboard alone', async ({ page }) => {
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
  await expect(page.locator('.notice')).toContainText('nobody brings back');
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
  await act(page, 'Delete all that I practised');
  await expect(row('An update that runs: Tern 6').first()).toContainText('new');
});
