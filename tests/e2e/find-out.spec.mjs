// The counter and the bench: signing in, taking a phone in, finding out what is wrong with it, by keys and without help.
import { expect, test } from './world.mjs';
import { act, look, signIn, watch, web } from './steps.mjs';

test.beforeEach(({ page }) => watch(page));

test('the counter takes a phone in by keys, in one go', async ({ page }) => {
  await page.goto(web('/'));
  await expect(page).toHaveURL(/sign-in/);
  await look(page, 'sign-in');
  await signIn(page, 'counter');
  await page.keyboard.press('n');
  await expect(page.locator('#description')).toBeFocused();
  await page.evaluate(() => { window.keysPressed = 0; addEventListener('keydown', () => window.keysPressed++, true); });
  const keys = async (text) => { await page.keyboard.type(text); await page.keyboard.press('Tab'); };
  await keys('yellow, no case');
  await page.keyboard.type('0B17');
  // A near code is offered; nothing is put into the field until somebody chooses it.
  await expect(page.getByRole('button', { name: 'OB17, Fell, Obrenn' })).toBeVisible();
  await expect(page.locator('#code')).toHaveValue('0B17');
  await page.keyboard.press('Tab');
  await page.keyboard.press('Enter');
  await expect(page.locator('#code')).toHaveValue('OB17');
  await expect(page.locator('#code-read')).toContainText('Fell, Obrenn');
  await look(page, 'intake-code');
  await page.keyboard.press('Tab');
  await page.keyboard.press('Tab');
  for (const choice of ['does not', 'nothing', 'it fell']) await keys(choice);
  await keys('');
  await keys('Dead since it fell.');
  await page.keyboard.press('Tab');
  await keys('nothing');
  await keys('+2h');
  await keys('SIM');
  await page.keyboard.press(' ');
  await page.locator('#ticket').focus();
  // What a person needs is counted, not timed: a slow hand presses two keys in a second, and a minute is what a counter has.
  expect(await page.evaluate(() => window.keysPressed)).toBeLessThan(120);
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/find-out$/);
  await expect(page.getByText('Power first.').first()).toBeVisible();
  await expect(page.getByText('Acting here is for the bench.')).toBeVisible();
  await expect(page.locator('[data-answer="1"]')).toBeDisabled();
  await look(page, 'find-out-counter');
});

test('a newcomer takes in a phone of their own and comes to a finding', { tag: '@turn-6' }, async ({ page }) => {
  await signIn(page, 'lead');
  await page.keyboard.press('n');
  await page.locator('#description').fill('purple, ring on the back');
  await page.locator('#code').fill('HX310/15.26w20-1.r2');
  await expect(page.locator('#code-read')).toContainText('revision 2');
  await page.locator('#complaint').fill('Shows the maker\'s picture for ever since the last update was done.');
  await page.getByLabel('What does it do now?').selectOption({ label: 'stands at the maker\'s picture' });
  await page.getByLabel('What was done to it last?').selectOption({ label: 'a stock write or update that ended well' });
  await act(page, 'Take it in');
  await expect(page).toHaveURL(/find-out$/);
  await look(page, 'triage');

  // What this phone shows, whatever is asked.
  const shows = {
    'power-key': 'the maker\'s picture and no further', 'screen-words': 'none of these', computer: 'nothing new', began: 'right after a write that ended well', 'write-end': 'no: it said that it was done',
    'write-mode': 'yes, and the computer sees it', recovery: 'the maker\'s recovery', vibrates: 'yes', status: 'official', 'way-out-keys': 'it is on no such screen',
  };
  let asked = 0;
  while (await page.locator('[name=check]').count()) {
    const check = await page.locator('[name=check]').getAttribute('value');
    if (shows[check]) {
      const answer = page.locator('.answer').filter({ hasText: shows[check] }).first();
      await page.keyboard.press(await answer.getAttribute('data-answer'));
    } else {
      await page.getByRole('button', { name: 'cannot tell' }).click();
    }
    await expect(page.locator(`[name=check][value="${check}"]`)).toHaveCount(0);
    expect(++asked).toBeLessThanOrEqual(10);
  }

  await expect(page.getByRole('heading', { name: 'What is wrong' })).toBeVisible();
  await expect(page.locator('.chance-bars title')).toContainText(/^What may be wrong: Stale data after a write/);
  await expect(page.getByText('The way out: Wipe data and cache in recovery')).toBeVisible();
  if (asked > 0) {
    // The last answer is undone by a key, and given again.
    await page.keyboard.press('u');
    await expect(page.getByText('Taken back.')).toBeVisible();
  }
  await act(page, 'Take this as the finding');
  await expect(page.getByText('Finding: stale data after a write')).toBeVisible();
});

test('a swollen phone stops at the counter', async ({ page }) => {
  await signIn(page, 'counter');
  await page.goto(web('/jobs/new'));
  await page.locator('#description').fill('bent, warm');
  await page.locator('#complaint').fill('It bulges.');
  await page.getByRole('radio', { name: 'swollen' }).check();
  await act(page, 'Take it in');
  await expect(page.getByRole('alert')).toContainText('Stop: this phone is swollen');
  await look(page, 'intake-stopped');
});

test('the lead looks at the catalogue, reads build strings and keeps the staff', { tag: '@turn-9' }, async ({ page }) => {
  await signIn(page, 'lead');
  await page.keyboard.press('g');
  await page.keyboard.press('c');
  await expect(page.getByRole('heading', { name: 'Catalogue' })).toBeVisible();
  await look(page, 'catalogue');
  await page.getByRole('link', { name: 'Read build strings' }).click();
  await page.locator('#text').fill('TN63E.5.2608.WHM2\nTN63E.6.2612.WHM1');
  await act(page, 'Read them');
  await expect(page.getByRole('cell', { name: 'newer', exact: true })).toBeVisible();
  await look(page, 'grammars');
  await page.goto(web('/staff'));
  await look(page, 'staff');
  await page.goto(web('/account'));
  await look(page, 'account');
  await page.goto(web('/jobs/0418/slip'));
  await look(page, 'slip');
  const sheet = await page.pdf({ format: 'A4' });
  expect(sheet.toString('latin1').match(/\/Type\s*\/Page[^s]/g)).toHaveLength(1);
  await page.goto(web('/account'));
  await act(page, 'Sign out here');
  await expect(page).toHaveURL(/sign-in/);
  await page.goto(web('/staff'));
  await expect(page).toHaveURL(/sign-in/);
});
