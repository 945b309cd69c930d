// The library as a technician uses it: a package from a mirror, one from this computer, what is inside, two side by side, room.
import { copyFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test } from './world.mjs';
import { act, look, signIn, watch, web } from './steps.mjs';

test('a package comes from a mirror and is looked into', { tag: '@turn-1' }, async ({ page }) => {
  watch(page);
  await signIn(page);
  await page.goto(web('/sources'));
  await act(page, 'Refresh and measure');
  await expect(page.getByRole('row', { name: /Quay/ }).first()).toContainText('MB/s');
  // Drift wants its ticket, and one of its files is not what it should be.
  const ticket = page.getByLabel('Ticket code for Drift');
  await ticket.fill('TIDE-1640');
  await ticket.press('Enter');
  await act(page, 'Refresh and measure');
  const tern = page.locator('.offers tr', { hasText: 'TN41E.2.2626.WHM1' });
  await tern.getByRole('button', { name: /^Drift/ }).click();
  const bundle = page.locator('.offers tr', { hasText: 'TN63E.5.2620.WHM3' });
  await bundle.getByRole('button', { name: /Breakwater/ }).click();
  await expect(page.locator('#arrivals progress').first()).toBeVisible();
  await look(page, 'sources');
  await expect(page.locator('#arrivals')).toContainText('its digest differs from the published one');
  await expect(page.locator('#arrivals a', { hasText: 'In the library' })).toBeVisible();
  await page.locator('#arrivals a', { hasText: 'In the library' }).click();
  await expect(page.locator('h1')).toHaveText(/TN63E/);
  await expect(async () => { await page.reload(); await expect(page.locator('.three-answers')).toContainText('TN63E (Tern 6), region WHM (Westholm)', { timeout: 500 }); }).toPass();
  await expect(page.locator('.three-answers')).toContainText('The file is what its publisher sent out, by a digest from Breakwater.');
  await expect(page.locator('.packs')).toContainText('The clean pack alone brings userdata');
  await look(page, 'package');
});

test('a file of this computer is sent, broken off and sent on', { tag: '@turn-1' }, async ({ page }) => {
  watch(page);
  await signIn(page, 'bench');
  const file = join(process.env.JUNCTRA_FOLDER, 'from a stick.zip');
  copyFileSync(join(process.env.JUNCTRA_FOLDER, 'packages', 'halyard2_N.zip'), file);
  await page.goto(web('/sources'));
  await page.locator('#upload').setInputFiles(file);
  await expect(page.locator('[data-upload-state]')).toContainText('5.3 MB');
  await act(page, 'Upload');
  await expect(page.locator('[data-upload-state]')).toHaveText('All of it is here.');
  await expect(page.locator('#arrivals article', { hasText: 'from a stick.zip' })).toContainText('In the library');
});

test('the library is narrowed, two packages stand side by side, room is made', { tag: '@turn-1' }, async ({ page }) => {
  watch(page);
  await signIn(page);
  await page.goto(web('/packages'));
  await expect(page.locator('.facet-value', { hasText: 'TN63E' })).toBeVisible();
  await look(page, 'packages');
  await page.locator('.facet-value', { hasText: 'part of a bundle' }).click();
  await page.getByRole('row', { name: /patched-system-8.1/ }).getByRole('link').click();
  await expect(page.getByText('Made from another package.')).toBeVisible();
  await page.getByRole('link', { name: 'Side by side', exact: true }).click();
  await expect(page.locator('.loud').first()).toBeVisible();
  await expect(page.getByText(/The same in both: (system, recovery|recovery, system)\. Changed: boot\./)).toBeVisible();
  await look(page, 'side-by-side');
  await page.goto(web('/packages/room'));
  await expect(page.locator('h1')).toHaveText('Disk space');
  await look(page, 'room');
});
