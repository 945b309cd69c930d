// Walks the whole line as a technician would, on the real program with the simulated phones.
import jsQR from 'jsqr';
import { expect, test } from './world.mjs';
import { handBack, printsOnOneSide } from './bench.mjs';
import { act, look, signIn, watch, web } from './steps.mjs';

async function hands(phone, what) {
  expect((await fetch(`${process.env.JUNCTRA_HANDS}/phones/${phone}/${what}`, { method: 'POST' })).ok).toBe(true);
}

const mode = async (phone) => (await (await fetch(`${process.env.JUNCTRA_HANDS}/phones`)).json())[phone].mode;

async function libraryIsSeen(page) {
  await expect(async () => {
    await page.goto(web('/packages'));
    expect(await page.locator('tr[data-row]').count()).toBeGreaterThanOrEqual(30);
    await expect(page.getByText('not looked into yet')).toHaveCount(0, { timeout: 500 });
  }).toPass();
}

async function answerGates(page) {
  for (const box of await page.locator('.gate input[type=checkbox]').all()) await box.check();
  for (const id of ['waived', 'signed-out']) {
    const option = page.locator(`.gate input[value=${id}]`);
    if (await option.count()) await option.check();
  }
}

/** What a scanner reads off the code on the page. */
async function scanned(page) {
  const svg = page.locator('svg.scan-code');
  const size = Number((await svg.getAttribute('viewBox')).split(' ')[2]);
  const dark = [...(await svg.locator('path').last().getAttribute('d')).matchAll(/M(\d+) (\d+)h1v1h-1z/g)].map(([, x, y]) => [Number(x), Number(y)]);
  const dot = 4;
  const quiet = 4;
  const side = (size + 2 * quiet) * dot;
  const pixels = new Uint8ClampedArray(side * side * 4).fill(255);
  for (const [x, y] of dark) {
    for (let i = 0; i < dot * dot; i += 1) {
      const at = (((y + quiet) * dot + Math.floor(i / dot)) * side + (x + quiet) * dot + (i % dot)) * 4;
      pixels.fill(0, at, at + 3);
    }
  }
  return jsQR(pixels, side, side)?.data;
}

test.beforeEach(async ({ page }) => {
  watch(page);
  await signIn(page);
});

test('demo job 4: a modified phone that is to be sold, from intake to hand-back', { tag: '@turn-0' }, async ({ page }) => {
  await libraryIsSeen(page);
  await look(page, 'packages');
  await page.locator('tr[data-row]').filter({ hasText: '26w14' }).getByRole('link').click();
  await expect(page.getByText('The radio image is not what its publisher sent out').first()).toBeVisible();
  await look(page, 'package-damaged');

  await page.goto(web('/'));
  await look(page, 'bench');
  await page.getByRole('row').filter({ hasText: '0421' }).getByRole('link').click();
  await act(page, 'Read from the phone');
  await expect(page.getByText('HXA70431', { exact: true })).toBeVisible();
  await expect(page.getByText('read over the link').first()).toBeVisible();
  await look(page, 'find-out');

  await page.keyboard.press(']');
  await expect(page).toHaveURL(/match$/);
  await expect(page.getByRole('heading', { name: /packages for this model and others of its name/ })).toBeVisible();
  await expect(page.getByText('Revision 2 is below the floor 3.', { exact: false }).first()).toBeVisible();
  await look(page, 'match');
  await page.getByRole('link', { name: 'HX204/15.26w14-1.r3' }).click();
  await expect(page.getByText('It cannot be used on this phone.')).toBeVisible();
  await page.getByRole('link', { name: 'HX204/15.26w10-7.r3' }).click();
  await act(page, 'Use this package');

  await expect(page.getByRole('heading', { name: 'It is in fastboot mode.' })).toBeVisible();
  await page.getByRole('link', { name: 'Its keys' }).click();
  await expect(page.locator('svg.key-score')).toBeVisible();
  await look(page, 'route');
  await page.keyboard.press(']');

  await expect(page.getByRole('heading', { name: /^Factory set, data erased/ })).toBeVisible();
  await expect(page.locator('.steps tr')).toHaveCount(15);
  await look(page, 'plan');
  await page.locator('a[data-primary]').click();
  await page.locator('#typed').fill('0421');
  await act(page, 'Write');
  await expect(page.getByRole('alert')).toContainText('Nothing was written. Still closed:');
  await answerGates(page);
  await page.locator('#typed').fill('0424');
  await act(page, 'Write');
  await expect(page.getByRole('alert')).toContainText('is not the ticket of this phone');
  await look(page, 'gates');
  await page.locator('#typed').fill('0421');
  await page.keyboard.press('Enter');

  await expect(page).toHaveURL(/write$/);
  await expect(page.getByRole('heading', { name: 'Writing radio. Hands off.' })).toBeVisible();
  await page.reload();
  await expect(page.getByRole('heading', { name: 'Writing system. Hands off.' })).toBeVisible();
  await expect(page.locator('[data-journal]')).toContainText('the phone accepted radio whole');
  await expect.poll(async () => Number(await page.locator('[data-partition=system] .fill').getAttribute('width'))).toBeGreaterThan(20);
  await look(page, 'write');
  await expect(page.getByRole('link', { name: 'To the check' })).toBeVisible();
  await expect(page.getByRole('heading', { name: 'Written. The phone restarts.' })).toBeVisible();
  await page.keyboard.press('Enter');

  await expect(page).toHaveURL(/check$/);
  await expect.poll(() => mode('A')).toBe('setup-wizard');
  await page.getByRole('button', { name: 'its set-up' }).click();
  await act(page, 'Read at port A');
  await expect(page.getByRole('alert')).toContainText('Nothing answers');
  await hands('A', 'hold-menu-keys');
  await act(page, 'Read at port A');
  await expect(page.locator('.action-bar').getByText(/^(All as|As) intended/)).toBeVisible();
  await look(page, 'check');
  await page.keyboard.press('Enter');

  await expect(page).toHaveURL(/hand-back$/);
  await expect(page.getByText('The bootloader is handed back unlocked.', { exact: false })).toBeVisible();
  await look(page, 'hand-back');
  await handBack(page, '0421');
  await page.keyboard.press('g');
  await page.keyboard.press('l');
  await expect(page.getByRole('row').filter({ hasText: '0421' })).toContainText('HX204/15.26w10-7.r3');
  await look(page, 'logbook-of-one');
});

test('demo job 5: a half-done write, the photos wanted; stopped by a person and begun again', { tag: '@turn-6' }, async ({ page }) => {
  await libraryIsSeen(page);
  await page.goto(web('/jobs/0424/route'));
  await expect(page.getByRole('heading', { name: 'From boot loop into fastboot mode' })).toBeVisible();
  await expect(page.getByText('Keep both down through the restart', { exact: false }).first()).toBeVisible();
  await hands('B', 'hold-menu-keys');
  await page.keyboard.press('1');
  await expect(page.getByRole('heading', { name: 'It is in fastboot mode.' })).toBeVisible();
  await page.locator('#port').selectOption('B');
  await act(page, 'Read from the phone');
  await expect(page).toHaveURL(/match$/);
  // The build that was half written is the one to write again; an older one would cost the data.
  await expect(page.locator('.candidate').first()).toContainText('HX204/15.26w10-7.r3');
  await page.getByRole('link', { name: 'HX204/15.26w06-3.r3' }).click();
  await expect(page.locator('#open')).toContainText('it cannot start on data of a newer system');
  await page.getByRole('link', { name: 'HX204/15.26w10-7.r3' }).click();
  await act(page, 'Use this package');
  await page.goto(web('/jobs/0424/plan?gates=1'));
  await expect(page.getByRole('heading', { name: /^Factory set, data kept/ })).toBeVisible();
  await answerGates(page);
  await page.locator('#typed').fill('0424');
  await act(page, 'Write');
  await expect(page.getByRole('heading', { name: 'Writing bootloader. Hands off.' })).toBeVisible();
  await expect(page.getByRole('button', { name: 'Stop after this image' })).toBeHidden();
  await expect(page.getByRole('heading', { name: 'Writing radio. Hands off.' })).toBeVisible();
  await act(page, 'Stop after this image');
  await expect(page.getByText('The write was stopped').first()).toBeVisible();
  await expect(page.getByText(/Accepted whole: bootloader, radio/).first()).toBeVisible();
  await look(page, 'write-stopped');

  await page.locator('a[data-primary]').click();
  await page.locator('#port').selectOption('B');
  await act(page, 'Read from the phone');
  await expect(page).toHaveURL(/plan$/);
  await page.goto(web('/jobs/0424/plan?gates=1'));
  await answerGates(page);
  await page.locator('#typed').fill('0424');
  await act(page, 'Write');
  await expect(page.getByRole('heading', { name: 'Written. The phone restarts.' })).toBeVisible();
  // With its data: no set-up.
  await expect.poll(() => mode('B')).toBe('system');
});

test('a phone of my own, by keys: conflicting label, boot loop, cable pulled, written again', { tag: '@turn-4' }, async ({ page }) => {
  await libraryIsSeen(page);
  await page.goto(web('/'));
  await page.keyboard.press('n');
  await expect(page).toHaveURL(/jobs\/new$/);
  await look(page, 'intake');
  await page.locator('#ticket').fill('0777');
  await page.locator('#description').fill('red, no case');
  await page.locator('#complaint').fill('Loops since last night');
  await page.locator('#code').fill('hx204c/15.26w10-4.r3');
  await page.locator('#source').selectOption('Label');
  await page.locator('#said-now').selectOption('loop');
  await page.locator('#data').selectOption('MayGo');
  await page.getByRole('checkbox', { name: /The customer states/ }).check();
  await page.locator('#complaint').press('Tab');
  await act(page, 'Take it in');

  await expect(page).toHaveURL(/0777\/find-out$/);
  await page.locator('#port').selectOption('B');
  await act(page, 'Read from the phone');
  await expect(page.getByRole('alert')).toContainText('Nothing answers');
  await page.goto(web('/jobs/0777/route'));
  await expect(page.getByRole('heading', { name: 'From boot loop into fastboot mode' })).toBeVisible();
  await page.keyboard.press(' ');
  await expect(page.getByRole('button', { name: 'Stop', exact: true })).toBeVisible();
  await page.keyboard.press(' ');
  await hands('B', 'hold-menu-keys');
  await page.locator('#port').selectOption('B');
  await act(page, 'Read from the phone');

  await page.goto(web('/jobs/0777/find-out'));
  await expect(page.getByText('conflicting').first()).toBeVisible();
  await look(page, 'conflict');
  // With the build string goes what was parsed from it.
  await page.getByRole('button', { name: 'Withdraw Build hx204c/15.26w10-4.r3' }).click();
  await expect(page.getByText('conflicting')).toHaveCount(0);

  await page.goto(web('/jobs/0777/match'));
  await page.getByRole('link', { name: 'HX204/15.26w10-7.r3' }).click();
  await act(page, 'Use this package');
  await page.goto(web('/jobs/0777/plan?gates=1'));
  await answerGates(page);
  await page.locator('#typed').fill('0777');
  await act(page, 'Write');
  await expect(page.getByRole('heading', { name: 'Writing system. Hands off.' })).toBeVisible();
  await hands('B', 'cable');
  await expect(page.getByText('The write ended early').first()).toBeVisible();
  await expect(page.getByText(/Accepted whole: bootloader, radio, boot, overlay, verify\. (Perhaps half written|Written in part|Not begun): system/).first()).toBeVisible();
  await expect(page.getByText('Nothing is written again by itself.')).toBeVisible();
  await look(page, 'write-ended-early');

  await hands('B', 'cable');
  await page.goto(web('/jobs/0777/route'));
  await page.locator('#port').selectOption('B');
  await act(page, 'Read from the phone');
  await expect(page).toHaveURL(/plan$/);
  await page.goto(web('/jobs/0777/plan?gates=1'));
  await answerGates(page);
  await page.locator('#typed').fill('0777');
  await act(page, 'Write');
  await expect(page.getByRole('heading', { name: 'Written. The phone restarts.' })).toBeVisible();
  await expect.poll(() => mode('B')).toBe('setup-wizard');
});

test('keys: help, find, lists', { tag: '@turn-4' }, async ({ page }) => {
  await page.goto(web('/'));
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog')).toBeVisible();
  await look(page, 'keys');
  await page.keyboard.press('Escape');
  await page.keyboard.press('/');
  await page.keyboard.type('0424');
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/jobs\/0424\//);
  const station = page.url();
  await page.keyboard.press('[');
  await expect(page).not.toHaveURL(station);
  await page.waitForLoadState();
  await page.keyboard.press('g');
  await page.keyboard.press('p');
  await expect(page).toHaveURL(/packages$/);
  await page.keyboard.press('j');
  await page.keyboard.press('j');
  await page.keyboard.press('k');
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/packages\/[0-9a-f]{64}$/);
  await page.goto(web('/ports'));
  await look(page, 'ports');
});

test('the code on slip and sheet leads to its job from any page, and into every field that wants a ticket', { tag: '@turn-5' }, async ({ page }) => {
  for (const sheet of ['label', 'slip', 'hand-back']) {
    await page.goto(web(`/jobs/0416/${sheet}`));
    await expect(page.locator('svg.scan-code')).toBeVisible();
    // Read by a program that did not draw it.
    expect(await scanned(page)).toBe('/0416');
    await look(page, `code-${sheet}`);
    await printsOnOneSide(page);
  }
  const code = await scanned(page);
  await page.goto(web('/packages'));
  await page.keyboard.type(code);
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/jobs\/0416\//);
  // Where single keys are switched off the scanner is told from a person by its speed, and presses nothing on its way.
  await page.evaluate(() => localStorage.setItem('junctra-keys', 'off'));
  await page.goto(web('/'));
  await page.evaluate((keys) => {
    for (const key of keys) document.activeElement.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true }));
  }, code.slice(0, 2));
  await expect(page.locator('#find')).toBeFocused();
  await page.keyboard.type(code.slice(2));
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/jobs\/0416\//);
  await page.evaluate(() => localStorage.removeItem('junctra-keys'));
  await page.goto(web('/jobs/new'));
  await page.locator('#ticket').fill('/0416');
  await page.locator('#description').fill('any');
  await page.locator('#complaint').fill('any');
  await act(page, 'Take it in');
  await expect(page.getByText('The ticket 0416 is taken already.')).toBeVisible();
});
