// npm test: everything from a fresh clone to a line that counts, on a machine with nothing but Node.
import { spawn } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { checkNode, ensureBuilt, ensureDebian, ensurePackages, main, root } from './machine.mjs';
import { startMariadb } from './mariadb.mjs';

const folder = mkdtempSync(join(tmpdir(), 'basitax-npm-test-'));
let passed = 0;
let failed = 0;

/** Runs a command with its output shown. True where it succeeded. */
function runs(args, env = {}) {
  return new Promise((done) => {
    const child = spawn(process.execPath, args, {
      cwd: root,
      stdio: ['ignore', 'inherit', 'inherit'],
      env: { ...process.env, ...env },
    });
    child.on('error', () => done(false));
    child.on('exit', (code) => done(code === 0));
  });
}

/** A check that is one thing: it counts as one test. */
async function check(title, args) {
  console.log(`\n── ${title}`);
  const fine = await runs(args);
  if (fine) passed++;
  else failed++;
  console.log(`${title}: ${fine ? 'passed' : 'FAILED'}`);
}

/** A run of Vitest: its own count is added. A run that breaks before it counts is a failure. */
async function tests(title, args, env) {
  console.log(`\n── ${title}`);
  const report = join(folder, `${title.replace(/\W+/g, '-')}.json`);
  const fine = await runs(
    [
      join(root, 'node_modules/vitest/vitest.mjs'),
      'run',
      '--reporter=default',
      '--reporter=json',
      `--outputFile.json=${report}`,
      ...args,
    ],
    env,
  );
  try {
    const counts = JSON.parse(readFileSync(report, 'utf8'));
    passed += counts.numPassedTests;
    failed += counts.numFailedTests;
    // a file that could not be loaded has no test that failed
    if (!fine && counts.numFailedTests === 0) failed++;
  } catch {
    failed++;
  }
}

const bin = (path) => join(root, 'node_modules', path);

await main(async () => {
  let database;
  try {
    checkNode();
    await ensurePackages();
    await ensureDebian('chromium', 'chromium');
    await ensureDebian('/usr/share/doc/graphviz/examples/graphs/directed', 'graphviz-doc');
    // readers that nobody here wrote, by which what we write is judged
    await ensureDebian('dot', 'graphviz');
    await ensureDebian('rsvg-convert', 'librsvg2-bin');
    await ensureDebian('/usr/lib/python3/dist-packages/networkx', 'python3-networkx');
    await ensureDebian('/usr/lib/python3/dist-packages/igraph', 'python3-igraph');
    await ensureDebian('/usr/lib/python3/dist-packages/cairo', 'python3-cairo');
    // graphs that nobody here drew
    await ensureDebian('/usr/share/doc/libevhtp-dev/html', 'libevhtp-doc');
    await ensureDebian('/usr/share/doc/waylandpp/html', 'waylandpp-doc');
    await ensureDebian('/usr/share/doc/dot2tex/examples', 'dot2tex');
    await ensureDebian('/usr/share/doc/ruby-graphviz/examples', 'ruby-graphviz');
    await ensureDebian('/usr/share/doc/libigraph-dev/examples/simple', 'libigraph-doc');
    await check('Lint', [bin('@biomejs/biome/bin/biome'), 'check', '.']);
    await check('Types of core', [bin('typescript/bin/tsc'), '-p', 'core']);
    await check('Types of web', [bin('typescript/bin/tsc'), '-p', 'web']);
    await check('Types of the rest', [bin('typescript/bin/tsc'), '-p', 'tsconfig.json']);
    await check('Idle dependencies', [bin('knip/bin/knip.js')]);
    database = await startMariadb(join(folder, 'db'), { throwaway: true });
    // once for all: tests of the start command and of the browser take it as it is
    await ensureBuilt();
    await tests('Unit and server tests', [], { TEST_DATABASE_URL: database.url });
    await tests('Browser tests', ['-c', 'e2e/vitest.config.ts']);
  } catch (error) {
    failed++;
    throw error;
  } finally {
    if (database) await database.stop();
    rmSync(folder, { recursive: true, force: true });
    console.log(`\n${passed} passed, ${failed} failed`);
    if (failed > 0) process.exitCode = 1;
  }
});
