// The page of the simulated phones, which is no part of the product: a bench that walks and people use with their hands.
import { expect, test } from './world.mjs';
import { into, phone } from './bench.mjs';
import { look, watch } from './steps.mjs';

test('a phone is held by keys and by mouse, its cable moved, its card filled', { tag: '@turn-4' }, async ({ page }) => {
  watch(page);
  await page.goto(process.env.JUNCTRA_HANDS);
  const tiles = page.locator('#tiles .tile');
  await expect(tiles).toHaveCount(17);
  // Each says whose job it belongs to.
  await expect(tiles.filter({ hasText: '0422' })).toContainText('OB17');
  await tiles.filter({ hasText: '0422' }).click();
  await expect(page.locator('#title')).toContainText('OB17');
  await expect(page.locator('#job')).toContainText('0422');
  await look(page, 'simulated-bench');

  // The cable, by keyboard and by mouse.
  const cable = page.getByRole('button', { name: 'Cable to the computer' }).first();
  const was = (await phone('M')).cable;
  await cable.focus();
  await page.keyboard.press('Enter');
  await expect.poll(async () => (await phone('M')).cable).not.toBe(was);
  await cable.click();
  await expect.poll(async () => (await phone('M')).cable).toBe(was);

  // A key is down as long as it is held, by whatever holds it.
  await page.keyboard.down('u');
  await expect.poll(async () => (await phone('M')).down).toEqual(['volume-up']);
  await page.keyboard.up('u');
  await expect.poll(async () => (await phone('M')).down).toEqual([]);
  const key = page.locator('[data-key=volume-down] rect').last();
  await key.hover();
  await page.mouse.down();
  await expect.poll(async () => (await phone('M')).down).toEqual(['volume-down']);
  await page.mouse.up();
  await expect.poll(async () => (await phone('M')).down).toEqual([]);
  // Latched, one hand holds two.
  await page.locator('#latch').check();
  await key.click();
  await page.locator('[data-key=volume-up] rect').last().click();
  await expect.poll(async () => (await phone('M')).down.toSorted()).toEqual(['volume-down', 'volume-up']);
  await key.click();
  await page.locator('[data-key=volume-up] rect').last().click();
  await expect.poll(async () => (await phone('M')).down).toEqual([]);

  await page.locator('#package').selectOption('fell-full-2.6.118.zip');
  await page.locator('#as').fill('fell-update.zip');
  await page.locator('#copy').click();
  await expect(page.locator('#card')).toContainText('fell-update.zip');
  // Sure hands, and as it first came.
  await page.locator('#modes').selectOption('stock-recovery');
  await page.locator('#bring').click();
  await expect.poll(async () => (await phone('M')).mode).toBe('stock-recovery');
  await page.locator('#renew').click();
  await expect.poll(async () => (await phone('M')).mode).toBe('system');
  await expect(page.locator('#card')).not.toContainText('fell-update.zip');
  await into('M', 'system');
});
