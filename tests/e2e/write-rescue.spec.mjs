// Board rescue: a phone that is not worth opening, and one that is, from the question to its hand-back.
import { expect, test } from './world.mjs';
import { begin, done, handBack, hands, into, libraryIsSeen, note, noteAtCheck, phone, printsOnOneSide, wanted } from './bench.mjs';
import { act, look, signIn, watch, web } from './steps.mjs';

test.beforeEach(async ({ page }) => {
  watch(page);
  await signIn(page);
  await libraryIsSeen(page);
});

/** No reaction, whatever is tried: the finding is that its boot chain is gone. */
async function findDead(page, job) {
  await page.goto(web(`/jobs/${job}/find-out`));
  for (const check of ['Thirty minutes on a known-good charger', 'Does it buzz, click or light up']) {
    await expect(page.getByRole('heading', { name: check })).toBeVisible();
    await page.locator('[data-answer="2"]').first().click();
  }
  await page.getByRole('button', { name: /^Take this as the finding/ }).first().click();
  await expect(page.getByText('The finding is: boot chain gone.')).toBeVisible();
}

test('demo job 11: not worth opening, and said before', { tag: '@turn-7' }, async ({ page }) => {
  await findDead(page, '0426');
  await page.goto(web('/jobs/0426/plan'));
  await expect(page.getByText('Not worth opening: the loader supports revisions up to 6, and the phone had 7.')).toBeVisible();
  await page.getByRole('link', { name: 'Board rescue' }).click();
  await expect(page.getByText('not worth opening', { exact: true })).toBeVisible();
  await look(page, 'rescue-not-worth');
  // Whoever begins all the same is refused; the full answer is the hand-back.
  await page.goto(web('/jobs/0426/rescue?part=open'));
  await page.getByRole('button', { name: /^Done/ }).click();
  await expect(page.getByRole('alert')).toContainText('It is not worth opening.');
  await page.goto(web('/jobs/0426/rescue'));
  await page.keyboard.press('Enter');
  await expect(page.getByText('It was not opened. Not worth opening: the loader supports revisions up to 6, and the phone had 7.')).toBeVisible();
  await handBack(page, '0426');
  expect((await phone('N')).mode).toBe('off');
});

/** Ticks steps of a rescue with their screws, each screw into the place of its length, until a step's title shows as done. */
async function steps(page, until) {
  const on = page.locator('.rescue-steps > li.on');
  for (;;) {
    const title = await on.locator('p b').first().textContent();
    for (const screw of await on.locator('.screws > li').all()) {
      const length = (await screw.locator('.code').textContent()).split(' ')[0];
      const id = await screw.locator('b').textContent();
      const row = on.locator('.screws > li').filter({ has: page.locator('b', { hasText: new RegExp(`^${id}$`) }) });
      const put = row.getByRole('button', { name: `Put ${length} mm into ${id}` });
      if (await put.count()) await put.click();
      else await row.getByRole('button', { name: 'out' }).click();
      await expect(row.getByRole('button')).toHaveCount(0);
    }
    await on.getByRole('button', { name: /^Done/ }).click();
    await expect(page.locator('.rescue-steps > li.done').filter({ hasText: title })).toBeVisible();
    if (title === until) return;
  }
}

test('demo job 12: opened, the pad found, rescued, written, checked, closed up, handed back', { tag: '@turn-7' }, async ({ page }) => {
  await findDead(page, '0427');
  await note(page, '0427', 'region', 'WHM', 'Label');
  await page.goto(web('/jobs/0427/match'));
  await page.getByRole('link', { name: 'TN63W.6.2612.WHM1' }).first().click();
  await act(page, 'Plan with it');
  await page.goto(web('/jobs/0427/plan?gates=1'));
  await expect(page.getByRole('heading', { name: /^Board rescue/ })).toBeVisible();
  await expect(page.getByText('It supports revisions up to 6; the phone had 6.')).toBeVisible();
  await expect(page.getByText('Somebody trained opens it', { exact: false })).toBeVisible();
  await look(page, 'plan-rescue');
  // What the finding did not need to ask is asked before anything is opened.
  await page.getByRole('link', { name: 'Board rescue' }).click();
  await expect(page.getByText('not known yet', { exact: true })).toBeVisible();
  await page.getByRole('button', { name: 'nothing: no light, no buzz' }).click();
  await page.getByRole('button', { name: 'nothing new' }).click();
  await expect(page.getByText('may be opened', { exact: true })).toBeVisible();
  await look(page, 'rescue-worth');
  await page.keyboard.press('Enter');
  await page.goto(web('/jobs/0427/rescue?part=pad'));
  await act(page, 'Nothing heard');
  await expect(page.getByRole('alert')).toContainText('The pad is reached once the opening is done');
  await page.goto(web('/jobs/0427/rescue?part=open'));
  await steps(page, 'Upper and lower cover off');
  await look(page, 'rescue-open');
  await steps(page, 'Lift the shield tape');

  await page.goto(web('/jobs/0427/rescue'));
  await expect(page.locator('.place')).toContainText('Right of the flex socket');
  await look(page, 'rescue');
  await page.emulateMedia({ media: 'print' });
  await printsOnOneSide(page);
  await page.emulateMedia({ media: null });
  // The other side, turned: the words follow the board.
  await page.getByRole('link', { name: 'A quarter turn to the right' }).click();
  await expect(page.locator('.place')).toContainText('Front up, a quarter turn to the right. Below the flex socket');
  await page.getByRole('link', { name: 'Turn over' }).click();
  await expect(page.getByText('The pad lies on the other side.')).toBeVisible();
  await look(page, 'rescue-back');
  await page.goto(web('/jobs/0427/rescue?part=pad'));
  await act(page, 'changed for it');
  // Twice nothing, with a rest between; then its port, heard by the run as well.
  await act(page, 'Nothing heard');
  await expect(page.getByText('1 attempt.')).toBeVisible();
  await expect(page.getByText('Likeliest the contact')).toBeVisible();
  await act(page, 'Nothing heard');
  await expect(page.getByRole('alert')).toContainText('Let the contact rest');
  await hands('O', 'needle');
  expect((await phone('O')).mode).toBe('emergency');
  await expect(async () => {
    await page.goto(web('/jobs/0427/rescue?part=pad'));
    await page.locator('#port').fill('serial port 7');
    await act(page, 'The port stays');
    await expect(page.getByRole('status').filter({ hasText: "the chip's port is heard" })).toBeVisible({ timeout: 1_000 });
  }).toPass();
  await page.locator('#at').selectOption('O');
  await act(page, 'Read the chip');
  await expect(page).toHaveURL(/plan$/);
  await begin(page, '0427');
  await wanted(page, 'Compare the phone with its ticket');
  await page.locator('#typed').fill('TNO60427');
  await act(page, 'It is this phone');
  await wanted(page, 'Bring it into download mode');
  await page.goto(web('/jobs/0427/rescue?part=close'));
  await steps(page, 'The few screws that keys and socket need');
  await page.goto(web('/jobs/0427/write'));
  await wanted(page, 'Bring it into download mode');
  await into('O', 'download');
  // Its chip told no serial, so that a port alone does not say whose phone this is.
  await page.locator('#shows').selectOption('download');
  await act(page, 'It shows this');
  await done(page);
  await expect.poll(async () => (await phone('O')).mode).toBe('setup-wizard');
  await page.goto(web('/jobs/0427/check'));
  await page.getByRole('button', { name: 'its set-up' }).click();
  await noteAtCheck(page, 'build', 'TN63W.6.2612.WHM1');
  await noteAtCheck(page, 'radio-build', 'TN63W-R-2612-N');
  await into('O', 'download');
  await act(page, 'Read at port O');
  await expect(page.locator('.action-bar').getByText(/^(All as|As) intended/)).toBeVisible();

  // Neither an open phone nor a computer with a changed rule leaves the shop unnoticed.
  await page.goto(web('/jobs/0427/hand-back'));
  await expect(page.getByText('The phone is open: tape back, all screws comes first.')).toBeVisible();
  await page.goto(web('/jobs/0427/rescue?part=close'));
  await steps(page, 'SIM tray back');
  await page.goto(web('/jobs/0427/hand-back'));
  await expect(page.getByText('The rule for drivers is still changed on bench computer.', { exact: false })).toBeVisible();
  await page.goto(web('/jobs/0427/rescue?part=pad'));
  await act(page, 'put back');
  await page.goto(web('/jobs/0427/hand-back'));
  await expect(page.getByText('It was opened by lead; a needle was held 2 times, and its chip answered.', { exact: false })).toBeVisible();
  await expect(page.getByText('The phone was opened: it is no longer proof against water.')).toBeVisible();
  await handBack(page, '0427');
});
