// What walks do with a phone on the simulated bench, and with its job at the stations in between.
import { expect } from '@playwright/test';
import { act, web } from './steps.mjs';

export const control = (path, method, body) => fetch(`${process.env.JUNCTRA_HANDS}/phones/${path}`, { method, body, headers: { 'Content-Type': 'application/json' } });
export const phone = async (name) => (await (await control('', 'GET')).json())[name];

export async function hands(name, what) {
  await expect(async () => expect((await control(`${name}/${what}`, 'POST')).ok).toBe(true)).toPass();
}

/** Brings a phone into a mode that its computer hears, with the cable in. */
export async function into(name, mode) {
  await expect(async () => {
    await control(`${name}/into/${mode}`, 'POST');
    const now = await phone(name);
    if (now.cable !== 'computer') await control(`${name}/cable`, 'POST');
    expect((await phone(name)).mode).toBe(mode);
    expect((await phone(name)).cable).toBe('computer');
  }).toPass();
}

export async function note(page, job, fact, value, from) {
  await page.goto(web(`/jobs/${job}/find-out`));
  await page.locator('#name').selectOption(fact);
  if (from) await page.locator('#from').selectOption(from);
  await page.locator('#value').fill(value);
  await page.locator('.note-fields button').last().click();
}

export async function noteAtCheck(page, fact, value) {
  const forms = page.locator(`#last-look form:has(input[name=name][value="${fact}"])`);
  await expect(forms.first()).toBeVisible();
  // One press where it is what was expected, or a word of a list; else it is typed.
  const said = forms.locator(`button[value="${value}"]`);
  if (await said.count()) {
    await said.click();
  } else {
    await page.locator(`#value-${fact}`).fill(value);
    await forms.getByRole('button', { name: /^Note it/ }).click();
  }
  await expect(forms).toHaveCount(0);
}

export async function read(page, job, port) {
  await page.goto(web(`/jobs/${job}/route`));
  await page.locator('#port').selectOption(port);
  await act(page, 'Read from the phone');
  await expect(page.getByText(new RegExp(`at port ${port}: read`))).toBeVisible();
}

export async function aim(page, job, goal) {
  await page.goto(web(`/jobs/${job}/match`));
  await page.locator('#goal').selectOption({ label: goal });
  await page.locator('form:has(#goal) button').first().click();
}

export async function choose(page, job, link) {
  await expect(async () => {
    await page.goto(web(`/jobs/${job}/match`));
    await page.getByRole('link', { name: link }).first().click({ timeout: 2_000 });
    await page.getByRole('button', { name: /^Use this package/ }).last().click({ timeout: 2_000 });
  }).toPass();
}

export async function begin(page, job) {
  await page.goto(web(`/jobs/${job}/plan?gates=1`));
  for (const box of await page.locator('.gate input[type=checkbox]').all()) await box.check();
  for (const id of ['waived', 'owner-knows']) {
    const option = page.locator(`.gate input[value=${id}]`);
    if (await option.count()) await option.check();
  }
  await page.locator('#typed').fill(job);
  await page.getByRole('button', { name: /^(Write|Begin)/ }).last().click();
  await expect(page).toHaveURL(/write$/);
}

/** The page on which the run waits for hands: the live view of the step before says the same words just before it makes room for it. */
export async function wanted(page, title) {
  await expect(page.locator('[data-waits=yes] .hands-wanted h2').filter({ hasText: title })).toBeVisible();
}

/** The recovery that was wanted shows: a person says so, or the port hears it before anybody does. */
export async function inRecovery(page, next) {
  const title = page.locator('[data-waits=yes] .hands-wanted h2').filter({ hasText: next });
  await expect(async () => {
    if (!(await title.count())) await page.getByRole('button', { name: /^Recovery.s menu/ }).last().click({ timeout: 2_000 });
    await expect(title).toBeVisible({ timeout: 5_000 });
  }).toPass();
}

export const done = (page) => expect(page.getByRole('heading', { name: /^(Written|Done)\. The phone restarts\.$/ })).toBeVisible();

/** Whatever is handed over prints on one side of its paper. */
export async function printsOnOneSide(page) {
  const paper = await page.pdf({ preferCSSPageSize: true });
  expect(paper.toString('latin1').match(/\/Type\s*\/Page[^s]/g), page.url()).toHaveLength(1);
}

export async function handBack(page, job) {
  await page.goto(web(`/jobs/${job}/hand-back`));
  await printsOnOneSide(page);
  for (const thing of await page.locator('input[name=back][form=goes]').all()) await thing.check();
  await act(page, 'Hand it back');
  await expect(page.getByText('Handed back. The job is in the logbook.')).toBeVisible();
}

/** The watched folder was looked through, so that a list of packages is whole. */
export async function libraryIsSeen(page) {
  await expect(async () => {
    await page.goto(web('/packages'));
    expect(await page.locator('tr[data-row]').count()).toBeGreaterThanOrEqual(30);
    await expect(page.getByText('not looked into yet')).toHaveCount(0, { timeout: 500 });
  }).toPass();
}
