// A second factor from its setting up to its end: the authenticator is this file's own (RFC 6238).
import { createHmac } from 'node:crypto';
import { expect, test } from './world.mjs';
import { act, look, signIn, watch, web } from './steps.mjs';

const password = 'twelve-letters';

/** The code of a secret in a time step of 30 s, so many steps from now. */
function codeOf(secret, steps = 0) {
  const bits = [...secret].map((letter) => 'ABCDEFGHIJKLMNOPQRSTUVWXYZ234567'.indexOf(letter).toString(2).padStart(5, '0')).join('');
  const key = Buffer.from(bits.match(/.{8}/g).map((byte) => parseInt(byte, 2)));
  const counter = Buffer.alloc(8);
  counter.writeBigUInt64BE(BigInt(Math.floor(Date.now() / 30_000) + steps));
  const hash = createHmac('sha1', key).update(counter).digest();
  return String((hash.readUInt32BE(hash[19] & 15) & 0x7fffffff) % 1_000_000).padStart(6, '0');
}

async function enter(page, name) {
  await page.goto(web('/sign-in'));
  await page.locator('#name').fill(name);
  await page.getByLabel('Password').fill(password);
  await page.keyboard.press('Enter');
}

async function leave(page) {
  await page.goto(web('/account'));
  await act(page, 'Sign out here');
  await expect(page.locator('#name')).toBeVisible();
}

test('a second factor is set up, asked for, replaced by a recovery code, and taken away', { tag: '@turn-0' }, async ({ page, browser }) => {
  watch(page);
  const name = `keys-${Date.now().toString(36)}`;
  await signIn(page);
  await page.goto(web('/staff'));
  await page.getByLabel('Name', { exact: true }).fill(name);
  await page.getByLabel(/^First password/).fill(password);
  await page.getByRole('group', { name: 'Roles' }).getByRole('checkbox', { name: /lead:/ }).check();
  await act(page, 'Make this account');
  await expect(page.getByRole('cell').filter({ hasText: name }).first()).toBeVisible();

  // A person of their own, in a browser of their own, who must set it up: leads have to.
  const person = await (await browser.newContext()).newPage();
  watch(person);
  await enter(person, name);
  await expect(person.locator('.who')).toHaveText(name);
  await person.goto(web('/account'));
  await person.getByLabel('Present password').last().fill('not-the-password');
  await act(person, 'Set it up');
  await expect(person.getByRole('alert')).toBeVisible();
  await person.getByLabel('Present password').last().fill(password);
  await act(person, 'Set it up');
  const secret = (await person.locator('code.token').textContent()).trim();
  await look(person, 'second factor, its secret');
  await person.getByLabel('The six digits').fill('000000');
  await act(person, 'Turn it on');
  await expect(person.getByRole('alert')).toBeVisible();
  // What was shown stays: an authenticator that has it goes on being right.
  await person.getByLabel('The six digits').fill(codeOf(secret));
  await person.keyboard.press('Enter');
  await expect(person.getByRole('status')).toContainText('It is on');
  const codes = await person.locator('.recovery-codes li').allTextContents();
  expect(codes.length).toBeGreaterThan(5);
  await look(person, 'second factor, its recovery codes');
  await leave(person);

  // The password alone opens nothing.
  await enter(person, name);
  await expect(person.getByRole('heading', { name: 'Second factor' })).toBeVisible();
  await look(person, 'second factor, the code asked for');
  await person.goto(web('/logbook'));
  await expect(person).toHaveURL(/sign-in/);
  await enter(person, name);
  await person.getByLabel('Code').fill('123456');
  await person.keyboard.press('Enter');
  await expect(person.getByRole('alert')).toBeVisible();
  // The code of the step before was used up; the next one is as good.
  await person.getByLabel('Code').fill(codeOf(secret, 1));
  await person.keyboard.press('Enter');
  await expect(person.locator('.who')).toHaveText(name);
  await leave(person);

  // The authenticator is lost: a recovery code opens once, and never again.
  for (const opens of [true, false]) {
    await enter(person, name);
    await person.getByLabel('Code').fill(codes[0]);
    await person.keyboard.press('Enter');
    if (opens) {
      await expect(person.locator('.who')).toHaveText(name);
      await leave(person);
    } else {
      await expect(person.getByRole('alert')).toBeVisible();
    }
  }

  await person.getByLabel('Code').fill(codes[1]);
  await person.keyboard.press('Enter');
  await expect(person.locator('.who')).toHaveText(name);
  await person.goto(web('/account'));
  await expect(person.getByText(`${codes.length - 2} recovery codes are left`)).toBeVisible();
  await person.getByLabel('A code, to take it away').fill(codes[2]);
  await act(person, 'Take it away');
  await expect(person.getByRole('button', { name: 'Set it up' })).toBeVisible();
  await person.context().close();
});
