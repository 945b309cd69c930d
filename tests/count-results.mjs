// Adds up what the test runners wrote: .trx files of the .NET tests and the browser tests' JSON.
import { existsSync, readdirSync, readFileSync } from 'node:fs';

const [folder, only] = process.argv.slice(2);
let passed = 0;
let failed = 0;
for (const file of readdirSync(folder).filter((name) => name.endsWith('.trx'))) {
  const text = readFileSync(`${folder}/${file}`, 'utf8');
  for (const [result, name] of text.matchAll(/<UnitTestResult [^>]*testName="([^"]*)"[^>]*>/g)) if (result.includes('outcome="Failed"')) console.error(`failed: ${name}`);
  const counters = text.match(/<Counters total="(\d+)" executed="(\d+)" passed="(\d+)"/);
  if (!counters) { failed += 1; continue; }
  passed += Number(counters[3]);
  failed += Number(counters[1]) - Number(counters[3]);
}
// A runner that left no result has failed, whatever it said.
const logs = readdirSync(folder).filter((name) => name.endsWith('.log') && name !== 'e2e.log').length;
const trx = readdirSync(folder).filter((name) => name.endsWith('.trx')).length;
failed += Math.max(0, logs - trx);
const browser = `${folder}/e2e.json`;
if (existsSync(browser)) {
  const { stats } = JSON.parse(readFileSync(browser, 'utf8'));
  passed += stats.expected + stats.flaky;
  failed += stats.unexpected;
  if (stats.flaky > 0) console.error(`${stats.flaky} of them only at the second try`);
} else {
  failed += 1;
}
if (passed === 0 && !only) failed += 1;
console.log(`${passed} passed, ${failed} failed`);
process.exit(failed === 0 ? 0 : 1);
