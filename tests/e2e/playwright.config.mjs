import { defineConfig } from '@playwright/test';

const results = process.env.JUNCTRA_ROOT ? `${process.env.JUNCTRA_ROOT}/.junctra/results` : 'test-results';

export default defineConfig({
  testDir: '.',
  // One bench, one pair of hands: the walks of a file share phones and follow each other; a worker has a world of its own.
  workers: 2,
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
      executablePath: '/usr/bin/chromium',
      args: ['--no-sandbox', '--disable-gpu', '--disable-quic', '--no-first-run', '--disable-background-networking', '--disable-component-update', '--disable-sync'],
    },
  },
});
