import { defineConfig } from '@playwright/test';

const results = process.env.JUNCTRA_ROOT ? `${process.env.JUNCTRA_ROOT}/.junctra/results` : 'test-results';

// Long walks take turns: a run of the suite has those of one turn, by the number of commits, so that a state of the code always has the same.
// All of them where that is asked for, where pictures are made, and where a walk is run by itself.
const { JUNCTRA_TURN: turn, JUNCTRA_TURNS: turns, JUNCTRA_SHOTS: shots } = process.env;
const otherTurns = turn && !shots ? [...Array(+turns).keys()].filter((one) => one !== turn % turns).map((one) => `@turn-${one}\\b`) : [];

export default defineConfig({
  testDir: '.',
  grepInvert: otherTurns.length > 0 ? new RegExp(otherTurns.join('|')) : undefined,
  // One bench, one pair of hands: the walks of a file share phones and follow each other; a worker has a world of its own. A world takes
  // its time to begin: the walks of one turn have one, and beside them the other tests keep the cores busy.
  workers: otherTurns.length > 0 ? 1 : 2,
  fullyParallel: false,
  // A walk that only passes at the second try is listed as flaky by the reporter, and is to be mended.
  retries: 1,
  timeout: 600_000,
  expect: { timeout: 300_000 },
  outputDir: `${results}/e2e`,
  reporter: [['list'], ['json', { outputFile: `${results}/e2e.json` }]],
  use: {
    viewport: { width: 1280, height: 800 },
    launchOptions: {
      executablePath: '/usr/bin/chromium-headless-shell',
      args: ['--no-sandbox', '--disable-gpu', '--disable-quic', '--no-first-run', '--disable-background-networking', '--disable-component-update', '--disable-sync'],
    },
  },
});
