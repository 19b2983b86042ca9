// npm test: everything from a fresh clone to a line that counts, on a machine with nothing but Node.
import { spawn } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { checkNode, ensureAllDebian, ensureBuilt, ensurePackages, main, root } from './machine.mjs';
import { startMariadb } from './mariadb.mjs';

const folder = mkdtempSync(join(tmpdir(), 'basitax-npm-test-'));
let passed = 0;
let failed = 0;

/** Runs a command, its output shown or given to `show`. True where it succeeded. */
function runs(args, env = {}, show) {
  return new Promise((done) => {
    const child = spawn(process.execPath, args, {
      cwd: root,
      stdio: show ? ['ignore', 'pipe', 'pipe'] : ['ignore', 'inherit', 'inherit'],
      env: { ...process.env, ...env },
    });
    if (show) for (const stream of [child.stdout, child.stderr]) stream.on('data', (text) => show(text.toString()));
    child.on('error', () => done(false));
    child.on('exit', (code) => done(code === 0));
  });
}

/** A check that is one thing: it counts as one test. Its output is shown when it is done, since two run at a time. */
async function check(title, args) {
  let said = '';
  const fine = await runs(args, {}, (text) => {
    said += text;
  });
  if (fine) passed++;
  else failed++;
  console.log(`\n── ${title}\n${said}${title}: ${fine ? 'passed' : 'FAILED'}`);
}

/** Does all of these, two at a time: as many as there are cores where this has to be fast. */
async function twoAtATime(acts) {
  const todo = [...acts];
  const work = async () => {
    for (let act = todo.shift(); act; act = todo.shift()) await act();
  };
  await Promise.all([work(), work()]);
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

/** Programs, or paths that packages bring, and the packages of Debian that bring them. */
const debian = [
  ['mariadbd', 'mariadb-server'],
  ['chromium', 'chromium'],
  // readers that nobody here wrote, by which what we write is judged
  ['dot', 'graphviz'],
  ['rsvg-convert', 'librsvg2-bin'],
  ['/usr/lib/python3/dist-packages/networkx', 'python3-networkx'],
  ['/usr/lib/python3/dist-packages/igraph', 'python3-igraph'],
  ['/usr/lib/python3/dist-packages/cairo', 'python3-cairo'],
  // graphs that nobody here drew
  ['/usr/share/doc/graphviz/examples/graphs/directed', 'graphviz-doc'],
  ['/usr/share/doc/libevhtp-dev/html', 'libevhtp-doc'],
  ['/usr/share/doc/waylandpp/html', 'waylandpp-doc'],
  ['/usr/share/doc/dot2tex/examples', 'dot2tex'],
  ['/usr/share/doc/ruby-graphviz/examples', 'ruby-graphviz'],
  ['/usr/share/doc/libigraph-dev/examples/simple', 'libigraph-doc'],
];

await main(async () => {
  let database;
  try {
    checkNode();
    await Promise.all([ensurePackages(), ensureAllDebian(debian)]);
    const tsc = bin('typescript/bin/tsc');
    await twoAtATime([
      // once for all: tests of the start command and of the browser take it as it is
      ensureBuilt,
      () => check('Types of core', [tsc, '-p', 'core']),
      () => check('Types of the rest', [tsc, '-p', 'tsconfig.json']),
      () => check('Types of web', [tsc, '-p', 'web']),
      () => check('Lint', [bin('@biomejs/biome/bin/biome'), 'check', '.']),
      () => check('Idle dependencies', [bin('knip/bin/knip.js')]),
    ]);
    database = await startMariadb(join(folder, 'db'), { throwaway: true });
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
