// A demo world for each worker of the browser tests: a fresh database, fresh phones, the web program; all of it ends with the worker.
// Walks of one file follow each other in one world; files share nothing but that world, where one worker has several.
import { spawn } from 'node:child_process';
import { cpSync, existsSync, mkdtempSync, openSync, rmSync } from 'node:fs';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { test as base } from '@playwright/test';

export { expect } from '@playwright/test';

const root = process.env.JUNCTRA_ROOT ?? process.cwd();
const dll = (name) => join(root, 'src', name, 'bin/Release/net10.0', `${name}.dll`);

const freePort = () => new Promise((resolve) => {
  const server = createServer();
  server.listen(0, '127.0.0.1', () => {
    const { port } = server.address();
    server.close(() => resolve(port));
  });
});

async function answers(url, by) {
  for (const late = Date.now() + 300_000; Date.now() < late; ) {
    if (by.exitCode !== null) throw new Error(`What was to answer at ${url} has ended with ${by.exitCode}.`);
    try { if ((await fetch(url)).ok) return; } catch { /* not yet */ }
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
  throw new Error(`${url} does not answer`);
}

const ended = (child) => new Promise((resolve) => { if (child.exitCode !== null || child.signalCode !== null) resolve(); else child.once('exit', resolve); });

// A port that was free may be taken by the time a program listens: everybody on this machine looks for free ones. Then others are tried.
async function start() {
  for (let tries = 1; ; tries++) {
    try { return await startAt(); } catch (error) { if (tries === 5 || !/has ended/.test(error.message)) throw error; }
  }
}

async function startAt() {
  const server = process.env.JUNCTRA_TEST_PG;
  if (!server) throw new Error('Browser tests need PostgreSQL: run them with ./junctra test.');
  const folder = mkdtempSync(join(tmpdir(), 'junctra-e2e-'));
  const phoneNames = [...'ABCDEFGHIJKLMNOP'];
  const [list, control, web, ...ports] = await Promise.all(Array.from({ length: 3 + phoneNames.length }, freePort));
  const log = (name) => openSync(join(folder, name), 'w');
  const run = (name, args, env = {}) => spawn('dotnet', [dll(name), ...args], { env: { ...process.env, ...env }, stdio: ['ignore', log(`${name}.out`), log(`${name}.err`)] });

  // The suite has made them already; where a walk is run by itself they are made here.
  const made = join(tmpdir(), 'junctra-all-demo-packages');
  if (existsSync(made)) cpSync(made, join(folder, 'packages'), { recursive: true, preserveTimestamps: true });
  else await ended(run('Junctra.StandIns', ['packages', join(folder, 'packages'), join(root, 'catalogue')]));
  const phones = run('Junctra.StandIns', ['serve', `--catalogue=${root}/catalogue`, `--data=${folder}/phones`, `--control=${control}`,
    ...phoneNames.map((name, i) => `--phone-${name.toLowerCase()}=${ports[i]}`), `--list=${list}`, '--rate=3000000', '--pace=10', '--long-pace=400', `--mirror-files=${folder}/mirrors`, '--mirror-pace=2']);
  // Making the timetable is a sixth of what the program does meanwhile: where its walks have their turn, and where all walks are run.
  const { JUNCTRA_TURN: turn, JUNCTRA_TURNS: turns, JUNCTRA_SHOTS: shots } = process.env;
  const keepsTimetable = !turn || shots || turn % turns === 5;
  const site = run('Junctra.Web', ['--contentRoot', join(root, 'src/Junctra.Web')], {
    ConnectionStrings__Junctra: `${server};Database=e2e_${process.pid}`,
    ASPNETCORE_URLS: `http://127.0.0.1:${web}`,
    Junctra__Catalogue: `${root}/catalogue`,
    Junctra__Library: `${folder}/packages`,
    Junctra__Store: `${folder}/store`,
    Junctra__DemoMirrors__Quay: `http://127.0.0.1:${control}/quay`,
    Junctra__DemoMirrors__Breakwater: `http://127.0.0.1:${control}/breakwater`,
    Junctra__DemoMirrors__Drift: `http://127.0.0.1:${control}/drift`,
    ...Object.fromEntries(phoneNames.map((name, i) => [`Junctra__DemoPorts__${name}`, `127.0.0.1:${ports[i]}`])),
    Junctra__Loaders: `${folder}/packages/.loaders`,
    Junctra__PhoneList: `127.0.0.1:${list}`,
    Junctra__KeepsTimetable: keepsTimetable ? 'true' : 'false',
  });
  process.env.JUNCTRA_FOLDER = folder;
  process.env.JUNCTRA_WEB = `http://127.0.0.1:${web}`;
  process.env.JUNCTRA_HANDS = `http://127.0.0.1:${control}`;
  const end = async () => {
    for (const child of [site, phones]) { child.kill(); await ended(child); }
    rmSync(folder, { recursive: true, force: true });
  };
  try {
    await answers(`${process.env.JUNCTRA_HANDS}/phones`, phones);
    await answers(`${process.env.JUNCTRA_WEB}/healthz`, site);
  } catch (error) {
    await end();
    throw error;
  }
  return end;
}

export const test = base.extend({
  // Walks of another round get a world in which nobody has touched anything.
  round: ['first', { scope: 'worker', option: true }],
  world: [async ({ round }, use) => {
    if (!round) throw new Error('A round of walks has a name.');
    const end = await start();
    await use();
    await end();
  }, { scope: 'worker', auto: true, timeout: 600_000 }],
});
