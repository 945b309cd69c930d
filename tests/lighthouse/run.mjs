// Scores of the main views in accessibility, best practices and performance, as a signed-in person has them, at a computer's width. Started by
// ./junctra lighthouse, with the demo running. Ends with 1 where one is under 98.
import { createServer } from 'node:net';
import { chromium } from '@playwright/test';
import lighthouse from 'lighthouse';
import desktop from 'lighthouse/core/config/desktop-config.js';

const base = process.env.JUNCTRA_WEB;
const wanted = 98;
const categories = ['accessibility', 'best-practices', 'performance'];
const views = process.argv.length > 2 ? process.argv.slice(2) : ['/sign-in', '/', '/jobs/new', '/jobs/0421/intake', '/jobs/0421/find-out', '/jobs/0421/match', '/jobs/0421/route', '/jobs/0421/plan',
  '/jobs/0421/write', '/jobs/0421/check', '/jobs/0421/hand-back', '/jobs/0421/story', '/packages', '/sources', '/logbook', '/insight', '/practice', '/catalogue', '/ports', '/shop-rules', '/operation', '/account'];
const port = await new Promise((resolve) => { const server = createServer().listen(0, '127.0.0.1', () => { const { port: free } = server.address(); server.close(() => resolve(free)); }); });
const browser = await chromium.launch({
  // The whole browser: its shell gives a page that is opened from outside none of the cookies.
  executablePath: '/usr/bin/chromium',
  args: ['--no-sandbox', '--disable-gpu', '--disable-quic', '--no-first-run', '--disable-background-networking', '--disable-component-update', '--disable-sync', `--remote-debugging-port=${port}`],
});
// The first context of a browser is the one that others connect to.
const page = await browser.newPage();
await page.goto(`${base}/sign-in`);
await page.locator('#name').fill('lead');
await page.locator('#password').fill('slipway-lead');
await page.keyboard.press('Enter');
await page.waitForSelector('.who');
const cookie = (await page.context().cookies()).map((one) => `${one.name}=${one.value}`).join('; ');
let failed = 0;
for (const view of views) {
  const { lhr } = await lighthouse(base + view, { port, logLevel: 'error', onlyCategories: categories, disableStorageReset: true, extraHeaders: view === '/sign-in' ? {} : { Cookie: cookie } }, desktop);
  const scores = categories.map((category) => Math.round(lhr.categories[category].score * 100));
  const low = categories.flatMap((category) => lhr.categories[category].auditRefs)
    .filter((ref) => ref.weight > 0 && lhr.audits[ref.id].score !== null && lhr.audits[ref.id].score < 0.9).map((ref) => ref.id);
  const elsewhere = lhr.finalDisplayedUrl !== base + view;
  if (elsewhere) low.unshift(`it went to ${lhr.finalDisplayedUrl}`);
  if (elsewhere || scores.some((score) => score < wanted)) failed++;
  console.log(`${view.padEnd(24)} ${scores.map((score) => String(score).padStart(4)).join(' ')}  ${low.join(', ')}`);
}
await browser.close();
console.log(`${views.length - failed} of ${views.length} views at ${wanted} or better in ${categories.join(', ')}`);
process.exit(failed > 0 ? 1 : 0);
