// Into the right mode: the route, the score tried on the twin, the link doctor, and the jobs that are solved here.
import { expect, test } from './world.mjs';
import { handBack } from './bench.mjs';
import { act, look, signIn, watch, web } from './steps.mjs';

test.beforeEach(async ({ page }) => {
  watch(page);
  await signIn(page);
});

const control = (path, options) => fetch(process.env.JUNCTRA_HANDS + path, options);
const hold = async (phone, events) => expect((await control(`/phones/${phone}/events`, { method: 'POST', body: JSON.stringify(events) })).ok).toBe(true);
const phone = async (name) => (await (await control('/phones')).json())[name];

test('a route is followed from where the phone really is, and the reached mode becomes a fact', async ({ page }) => {
  await page.goto(web('/jobs/0418/route'));
  await expect(page.getByRole('heading', { name: 'From boot loop into download mode' })).toBeVisible();
  await expect(page.locator('.track-plan title')).toHaveText(/From boot loop into download mode/);
  await expect(page.getByText('Leave it', { exact: false }).or(page.getByText('do not answer it', { exact: false })).first()).toBeVisible();
  await look(page, 'route');
  // Too late with the volume keys: the loop goes on, and the route begins there again.
  await page.keyboard.press('2');
  await expect(page.getByRole('status')).toContainText('came too late after the dark');
  await expect(page.getByRole('heading', { name: 'From boot loop into download mode' })).toBeVisible();
  await page.keyboard.press('1');
  await expect(page.getByRole('heading', { name: 'From warning screen into download mode' })).toBeVisible();
  await page.keyboard.press('1');
  await expect(page.getByRole('heading', { name: 'It is in download mode.' })).toBeVisible();
  await expect(page.getByText('“Do not unplug” shows even then.')).toBeVisible();
  // A rooted phone that runs has more than one way.
  await page.goto(web('/jobs/0419/route'));
  await page.keyboard.press('w');
  await expect(page.locator('[data-others]')).toHaveAttribute('open', '');
  await page.goto(web('/jobs/0418/find-out'));
  await expect(page.getByText('download mode').first()).toBeVisible();
  await page.goto(web('/jobs/0418/route'));
  await page.locator('#mode').selectOption('boot-loop');
  await page.getByRole('button', { name: 'It shows this' }).click();
  await expect(page.getByRole('heading', { name: 'From boot loop into download mode' })).toBeVisible();
});

test('a score is tried on the twin with the keyboard, and the twin says where a press was early', { tag: '@turn-10' }, async ({ page }) => {
  await page.goto(web('/jobs/0428/route/try?way=off-to-warning&from=off'));
  const trial = page.locator('[data-url]');
  await expect(page.locator('.twin-screen')).toHaveClass(/dark/);
  await look(page, 'try');
  // The cable before the keys: the charging picture.
  await page.keyboard.down('c');
  await page.keyboard.up('c');
  await expect(trial).toHaveAttribute('data-mode', 'charging');
  await page.getByRole('button', { name: 'Begin again' }).click();
  await expect(trial).toHaveAttribute('data-mode', 'off');
  await page.keyboard.down('ArrowUp');
  await page.keyboard.down('ArrowDown');
  await expect(page.locator('[data-part="volume-up"]').first()).toHaveClass(/lit/);
  await page.keyboard.down('c');
  await page.keyboard.up('c');
  await expect(trial).toHaveAttribute('data-arrived', 'true');
  await page.keyboard.up('ArrowUp');
  await page.keyboard.up('ArrowDown');
  await expect(page.getByText('That is where the score leads.')).toBeVisible();
  await expect(page.locator('.moments li').first()).toContainText('Volume up pressed');
  // What was held lies on the staves of the score: both keys and the cable.
  await expect(page.locator('[data-played] rect')).toHaveCount(3);
  // Whoever turns to another window has let go.
  await page.getByRole('button', { name: 'Begin again' }).click();
  await page.keyboard.down('ArrowUp');
  await expect(page.locator('[data-hold="volume-up"]')).toHaveAttribute('aria-pressed', 'true');
  await page.evaluate(() => dispatchEvent(new Event('blur')));
  await expect(page.locator('[data-hold="volume-up"]')).toHaveAttribute('aria-pressed', 'false');
  await page.keyboard.up('ArrowUp');
  // One finger: keys that stay down until they are hit again, and the trap of the key that is let go alone.
  await page.getByRole('button', { name: 'Begin again' }).click();
  await page.getByLabel('A key stays down until it is hit again').check();
  await page.locator('[data-hold="volume-up"]').click();
  await page.locator('[data-hold="volume-down"]').click();
  await page.locator('[data-hold="cable"]').click();
  await expect(trial).toHaveAttribute('data-mode', 'warning screen');
  await page.locator('[data-hold="volume-down"]').click();
  await expect(trial).toHaveAttribute('data-mode', 'lock-change screen');
  await expect(page.locator('.twin-screen')).toContainText('Lock the bootloader?');
});

test('demo job 9: the target is told by its serial, and remedies come in their order', { tag: '@turn-9' }, async ({ page }) => {
  await page.goto(web('/jobs/0423/route/link?port=D'));
  await expect(page.getByRole('heading', { name: 'Two phones listed' })).toBeVisible();
  await expect(page.getByRole('row').filter({ hasText: 'none shown' })).toContainText('warning mark');
  await look(page, 'link');
  // The serial of another phone is not taken for this one.
  await page.locator('#serial').fill('TRD99999');
  await page.getByRole('button', { name: 'Note it' }).click();
  await expect(page.getByRole('alert')).toContainText('No phone with the serial TRD99999 is listed');
  await page.getByRole('row').filter({ hasText: 'TRD40551' }).getByRole('button').click();
  await expect(page.getByRole('status')).toContainText('Nothing is ever written to another one');
  await expect(page.getByRole('row').filter({ hasText: 'TRD40551' })).toContainText("this job's");
  await expect(page.getByRole('heading', { name: 'Listed and right.' })).toBeVisible();
  // A cable that carries no data: the most common cure comes first, and the try is kept.
  await control('/list/D', { method: 'PUT', headers: { 'Content-Type': 'application/json' }, body: JSON.stringify({ unlisted: true }) });
  await page.reload();
  await expect(page.getByRole('heading', { name: 'Another cable' })).toBeVisible();
  await page.locator('#cable').selectOption({ label: 'white, frayed' });
  await act(page, 'Tried it');
  await expect(page.getByRole('status')).toContainText('The next remedy is first now');
  await expect(page.getByRole('heading', { name: 'Another cable' })).toHaveCount(0);
  await control('/list/D', { method: 'PUT', headers: { 'Content-Type': 'application/json' }, body: '{}' });
  await act(page, 'Tried it');
  await expect(page.getByRole('status')).toContainText('that did it');
  await page.goto(web('/ports'));
  await expect(page.getByRole('row').filter({ hasText: 'white, frayed' })).toContainText('1');
  await look(page, 'ports');
  // Read over the link of its own mode, and by the wrong port not at all.
  await page.goto(web('/jobs/0423/route'));
  await page.locator('#port').selectOption('C');
  await act(page, 'Read from the phone');
  await expect(page.getByRole('alert')).toContainText('another phone');
  await page.locator('#port').selectOption('D');
  await act(page, 'Read from the phone');
  // The library may still be looked through, which the next station says besides.
  await expect(page.getByRole('status').filter({ hasText: 'In download mode at port D' })).toBeVisible();
  await handBack(page, '0423');
});

test('demo job 10: “no command” is left by its key score, and nothing is written', { tag: '@turn-9' }, async ({ page }) => {
  await page.goto(web('/jobs/0425/route?to=system'));
  await expect(page.getByRole('heading', { name: 'From “no command” screen into running system' })).toBeVisible();
  await expect(page.getByText('let go of it first', { exact: false }).first()).toBeVisible();
  // As the score says: Power, Volume up, Volume up off first.
  await hold('E', [{ is: 'key-down', key: 'power' }, { is: 'time', milliseconds: 1000 }, { is: 'key-down', key: 'volume-up' }, { is: 'time', milliseconds: 3000 }, { is: 'key-up', key: 'volume-up' }, { is: 'time', milliseconds: 500 }, { is: 'key-up', key: 'power' }]);
  expect((await phone('E')).mode).toBe('stock-recovery');
  await page.keyboard.press('1');
  await expect(page.getByRole('heading', { name: 'From stock recovery into running system' })).toBeVisible();
  await hold('E', [{ is: 'key-down', key: 'power' }, { is: 'time', milliseconds: 300 }, { is: 'key-up', key: 'power' }]);
  await expect.poll(async () => (await phone('E')).mode).toBe('system');
  await page.keyboard.press('1');
  await expect(page.getByRole('heading', { name: 'It is in running system.' })).toBeVisible();
  expect(await (await control('/phones/E/log')).json()).toEqual([]);
  await handBack(page, '0425');
});

test('demo job 14: a phone that seems dead is charged before anything else', { tag: '@turn-9' }, async ({ page }) => {
  await page.goto(web('/jobs/0429/route'));
  await page.locator('#to').selectOption('charging');
  await page.getByRole('button', { name: 'Route there' }).click();
  await expect(page.getByRole('heading', { name: 'From off into charging' })).toBeVisible();
  // On the charger, with its current noted.
  await hold('F', [{ is: 'cable-in' }, { is: 'time', milliseconds: 300_000 }]);
  expect((await phone('F')).mode).toBe('off');
  await expect(page.getByText('Leave it 30 minutes on a known-good charger', { exact: false })).toBeVisible();
  await hold('F', [{ is: 'time', milliseconds: 1_500_000 }]);
  expect((await phone('F')).mode).toBe('charging');
  await page.keyboard.press('1');
  await expect(page.getByRole('heading', { name: 'It is in charging.' })).toBeVisible();
  await hold('F', [{ is: 'key-down', key: 'power' }, { is: 'time', milliseconds: 1500 }, { is: 'key-up', key: 'power' }]);
  await expect.poll(async () => (await phone('F')).mode).toBe('system');
  expect(await (await control('/phones/F/log')).json()).toEqual([]);
  await handBack(page, '0429');
});

test('demo job 13: the lock question, and the switch that hides until the phone was online', { tag: '@turn-9' }, async ({ page }) => {
  await page.goto(web('/jobs/0428/route?to=lock-change'));
  await expect(page.getByRole('heading', { name: 'From running system into lock-change screen' })).toBeVisible();
  await page.goto(web('/jobs/0428/route/try?way=warning-to-lock-change&from=warning-screen'));
  await page.keyboard.down('ArrowUp');
  await expect(page.locator('.twin-screen')).toContainText('Lock the bootloader?');
  await expect(page.locator('.twin-screen')).toContainText('Locking erases everything');
  await page.keyboard.up('ArrowUp');
  // Answered, it is locked and erased; the switch is hidden until it was online and asked for an update.
  await page.keyboard.down('ArrowUp');
  await page.keyboard.up('ArrowUp');
  await expect(page.locator('.twin-screen')).not.toContainText('Lock the bootloader?');
});
