// The house as its lead sees it, somebody's first visit, and every main view by night and in widths from a phone's to a wide screen's.
import { expect, test } from './world.mjs';
import { act, barriers, look, signIn, watch, web } from './steps.mjs';

const views = ['/', '/jobs/new', '/jobs/0421/intake', '/jobs/0421/find-out', '/jobs/0421/match', '/jobs/0421/route', '/jobs/0421/plan', '/jobs/0421/write',
  '/jobs/0421/check', '/jobs/0421/hand-back', '/jobs/0421/story', '/packages', '/packages/room', '/sources', '/logbook', '/insight', '/practice', '/practice/mine', '/catalogue', '/catalogue/models/HX204', '/catalogue/change',
  '/ports', '/shop-rules', '/bench-hours', '/records', '/staff', '/account', '/operation', '/practice/screen-hx204-fastboot', '/jobs/0427/rescue?part=pad'];

// Jobs of the demo's past have runs to tell of; those on the bench may not have come so far.
async function viewsOfTheDemo(page) {
  const past = page.locator('a[href$="/story"]');
  await expect(async () => {
    await page.goto(web('/logbook'));
    expect(await past.count()).toBeGreaterThan(2);
  }).toPass();
  return [...views, ...await past.evaluateAll((links) => links.slice(0, 3).map((link) => link.getAttribute('href')))];
}

test('what looks for barriers finds those that are there', async ({ page }) => {
  await page.setContent('<!doctype html><html lang="en"><title>Barriers</title><main><img src="data:,"><p style="color:#bbb;background:#ccc">faint</p><input></main>');
  const { violations } = await barriers(page).analyze();
  expect(violations.map((one) => one.id)).toEqual(expect.arrayContaining(['color-contrast', 'image-alt', 'label']));
});

// Another walk may have been in this world as that person before: the line is brought out again first.
test('the line is shown, put away, and brought out again', async ({ page }) => {
  watch(page);
  await signIn(page, 'counter');
  const line = page.getByRole('heading', { name: 'New here?' });
  for (let times = 0; times < 2; times++) {
    await page.goto(web('/account'));
    await act(page, 'Show the line on the bench again');
    await expect(line).toBeVisible();
    if (times === 0) await look(page, 'first-visit');
    await act(page, 'Put this away');
    await expect(line).toHaveCount(0);
  }
});

test('the lead sees what keeps the house, and where everybody is signed in', { tag: '@turn-4' }, async ({ page }) => {
  watch(page);
  await signIn(page);
  await page.goto(web('/operation'));
  await expect(page.getByText('No backup was ever taken')).toBeVisible();
  await look(page, 'operation');
  await act(page, 'Check the audit now');
  await expect(page.getByText('The audit is whole').or(page.getByText('The audit has no line yet'))).toBeVisible();
  await page.goto(web('/account'));
  await expect(page.getByRole('cell', { name: 'here', exact: true })).toBeVisible();
  await look(page, 'account');
});

test('by night every view can be read', { tag: '@turn-10' }, async ({ page }) => {
  watch(page);
  await signIn(page);
  await page.keyboard.press('?');
  await page.getByLabel('night').check();
  await page.keyboard.press('Escape');
  const wrong = [];
  for (const view of await viewsOfTheDemo(page)) {
    await page.goto(web(view));
    await expect(page.locator('html')).toHaveAttribute('data-theme', 'night');
    const { violations } = await barriers(page).withRules(['color-contrast']).analyze();
    wrong.push(...violations.flatMap((v) => v.nodes.map((n) => `${view}: ${n.target} ${n.any[0]?.message ?? ''}`)));
  }
  expect(wrong).toEqual([]);
});

// 640 is what a window of 1280 has left at 200 %.
for (const width of [390, 640, 768, 1920]) {
  test(`at ${width} pixels nothing runs over the edge`, { tag: `@turn-${[390, 640, 768, 1920].indexOf(width) * 3}` }, async ({ page }) => {
    watch(page);
    await page.setViewportSize({ width, height: 900 });
    await signIn(page);
    const wrong = [];
    for (const view of await viewsOfTheDemo(page)) {
      await page.goto(web(view));
      const over = await page.evaluate(() => {
        const edge = document.documentElement.clientWidth;
        const inScroller = (one) => { for (let at = one.parentElement; at && at !== document.body; at = at.parentElement) if (/auto|scroll|hidden/.test(getComputedStyle(at).overflowX)) return true; return false; };
        if (document.documentElement.scrollWidth <= edge + 1) return [];
        return [...document.querySelectorAll('body *')].filter((one) => one.getBoundingClientRect().right > edge + 1 && !inScroller(one) && ![...one.children].some((child) => child.getBoundingClientRect().right > edge + 1))
          .slice(0, 3).map((one) => `${one.tagName.toLowerCase()}.${String(one.className.baseVal ?? one.className).split(' ').join('.')} ${Math.round(one.getBoundingClientRect().right)}`);
      });
      if (over.length > 0) wrong.push(`${view}: ${over.join(', ')}`);
    }
    expect(wrong).toEqual([]);
  });
}
