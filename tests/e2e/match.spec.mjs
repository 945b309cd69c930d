// The match: opened by keys, judged by another school with a reason, by a wish, and from the package's side.
import { expect, test } from './world.mjs';
import { act, look, signIn, watch, web } from './steps.mjs';

test.beforeEach(async ({ page }) => {
  watch(page);
  await signIn(page);
});

/** The match of a job, once the whole library was looked through. */
async function match(page, ticket) {
  await page.goto(web(`/jobs/${ticket}/match`));
  await expect(async () => {
    await page.reload();
    await expect(page.getByText('still being scanned')).toHaveCount(0, { timeout: 100 });
  }).toPass({ timeout: 300_000 });
}

test('demo job 1: its own revision first, another region only by another school and with a reason', { tag: '@turn-4' }, async ({ page }) => {
  await match(page, '0418');
  const rows = page.locator('tbody.candidate');
  // Another walk may have fetched a later build of the same revision and region; that one then stands first.
  await expect(rows.first()).toContainText(/TN63E\.5\.26(08\.WHM2|20\.WHM3)/);
  await expect(page.locator('.action-bar')).toContainText('may loop on the data that stays');
  // By keys: down to the first row, open it, read why not the newer one.
  await page.keyboard.press('j');
  await page.keyboard.press('Enter');
  await expect(page.getByText('What using it means')).toBeVisible();
  await expect(page.getByText('it takes fewer steps that cannot be undone: bootloader revision 5, and 6.').first()).toBeVisible();
  await look(page, 'match-open');
  await page.locator('#against').selectOption({ label: 'TN63E.4.2536.WHM1 · TN63E_WHM_r4_full.zip' });
  await act(page, 'Why this order');
  await expect(page.getByText('its verdict is care, the other\'s is stop')).toBeVisible();

  await page.getByRole('link', { name: 'stopped' }).click();
  await expect(page.locator('tbody.candidate.stop').first()).toBeVisible();
  await expect(page.locator('tbody.candidate.care')).toHaveCount(0);
  await page.locator('#school-region summary').click();
  await page.locator('#school-region').getByText('any for this model').click();
  await page.locator('#school-region').getByRole('button', { name: 'Apply' }).click();
  await expect(page.getByRole('alert')).toContainText('Say why this job works by');
  await page.locator('#school-region summary').click();
  await page.locator('#school-region').getByText('any for this model').click();
  await page.locator('#reason-region').fill('The owner moves to Sorvia.');
  await page.locator('#school-region').getByRole('button', { name: 'Apply' }).click();
  await expect(page.locator('tbody.candidate').filter({ hasText: 'TN63E_SRV_r5_full.zip' })).toContainText('Care');
  await page.locator('#school-region summary').click();
  await expect(page.locator('#school-region')).toContainText('The owner moves to Sorvia.');
  await look(page, 'match-schools');

  await page.locator('#wish').selectOption('same-revision');
  await page.locator('.wanted').getByRole('button', { name: 'Apply' }).first().click();
  await expect(page.locator('tbody.candidate').filter({ hasText: 'TN63E_WHM_r6_full.zip' })).toContainText('Stopped by wish');
});

test('where nothing may be written: what opens it, and what does not', { tag: '@turn-8' }, async ({ page }) => {
  await match(page, '0422');
  await expect(page.getByText('No package in the library may be written to this phone with what is known now.')).toBeVisible();
  await expect(page.locator('.nearest')).toContainText('Copy it to the root of the external card');
  await look(page, 'match-nearest');
  await match(page, '0416');
  await expect(page.getByText('each is for another phone')).toBeVisible();
});

test('a package says which phones it fits; the shop has rules; a program has a token', { tag: '@turn-0' }, async ({ page }) => {
  await match(page, '0419');
  await expect(page.locator('tbody.candidate').first()).toContainText('patched-system-8.2.tar');
  await page.locator('tbody.candidate').first().getByRole('link').first().click();
  await page.getByRole('link', { name: 'Look into this package' }).click();
  await expect(page.getByRole('heading', { name: 'Phones on the bench' })).toBeVisible();
  await expect(page.getByRole('row').filter({ hasText: '0419' })).toContainText('Care');
  await look(page, 'package-fits');
  await page.getByRole('link', { name: 'TN63E', exact: true }).click();
  await expect(page.locator('svg.ladder')).toBeVisible();
  await look(page, 'model');

  await page.goto(web('/shop-rules'));
  await look(page, 'shop-rules');
  await page.locator('#origin').getByText('pre-releases too').click();
  await page.locator('#origin').getByRole('button').click();
  await expect(page.getByRole('alert')).toContainText('Say why the shop works by');

  await page.goto(web('/account'));
  await page.locator('#token-name').fill('stock list');
  await act(page, 'Make a token');
  const token = await page.locator('.token').textContent();
  await look(page, 'account');
  const answer = await fetch(web('/api/v1/match'), { method: 'POST', headers: { authorization: `Bearer ${token}`, 'content-type': 'application/json' }, body: JSON.stringify({ facts: [{ fact: 'model-code', value: 'HX204', source: 'label' }] }) });
  expect(answer.status).toBe(200);
  expect((await answer.json()).format).toBe('junctra-match');
});
