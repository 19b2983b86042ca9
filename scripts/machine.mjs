// What start and test need of the machine, with nothing installed yet: only Node itself may be used here.
import { spawn, spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:net';
import { dirname, join, resolve } from 'node:path';
import { fileURLToPath } from 'node:url';

export const root = resolve(dirname(fileURLToPath(import.meta.url)), '..');
export const home = resolve(process.env.BASITAX_HOME ?? join(root, '.basitax'));

/** Something a person has to mend: shown as one sentence, without a stack. */
export class Trouble extends Error {}

export function checkNode() {
  const [major, minor] = process.versions.node.split('.').map(Number);
  if (major < 20 || (major === 20 && minor < 15))
    throw new Trouble(`Basitax needs Node 20.15 or later; this is Node ${process.versions.node}.`);
}

export function makeHome() {
  try {
    mkdirSync(home, { recursive: true });
    writeFileSync(join(home, '.writable'), '');
  } catch (error) {
    throw new Trouble(
      `The folder ${home} cannot be written (${error.code}): give yourself the right, or name another with BASITAX_HOME=/some/folder.`,
    );
  }
}

/** Runs a command with its output shown; rejects where it fails. */
export function run(command, args, options = {}) {
  return new Promise((done, fail) => {
    const child = spawn(command, args, { cwd: root, stdio: 'inherit', ...options });
    child.on('error', (error) => fail(new Trouble(`${command} could not be started: ${error.message}.`)));
    child.on('exit', (code, signal) =>
      code === 0
        ? done()
        : fail(
            new Trouble(
              `“${command} ${args.join(' ')}” ended with ${signal ?? `status ${code}`}; its output above says why.`,
            ),
          ),
    );
  });
}

const hashOf = (parts) =>
  parts.reduce((hash, part) => hash.update(part).update('\0'), createHash('sha256')).digest('hex');

function readIfThere(file) {
  return existsSync(file) ? readFileSync(file, 'utf8') : '';
}

/** npm packages as the lock file says; nothing where they are there already. */
export async function ensurePackages() {
  const wanted = hashOf([readFileSync(join(root, 'package-lock.json'))]);
  const marker = join(root, 'node_modules', '.basitax-lock');
  if (readIfThere(marker) === wanted) return;
  console.log('Installing npm packages …');
  await run('npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error']);
  writeFileSync(marker, wanted);
}

export function findProgram(
  names,
  folders = ['/usr/sbin', '/usr/bin', '/usr/local/sbin', '/usr/local/bin', '/sbin', '/bin'],
) {
  for (const folder of [...(process.env.PATH ?? '').split(':'), ...folders]) {
    for (const name of names) if (folder && existsSync(join(folder, name))) return join(folder, name);
  }
  return undefined;
}

/** The path of a program, or the path that a package brings; undefined where it is missing. */
const found = (program) =>
  (program.startsWith('/') ? existsSync(program) && program : findProgram([program])) || undefined;

/**
 * Installs a Debian package where its program, or the path that it brings, is missing, and gives its path. Without the
 * right to, says the command to give.
 */
export async function ensureDebian(program, debianPackage) {
  await ensureAllDebian([[program, debianPackage]]);
  return found(program);
}

/** The same for many, each a program or path and its package: those that are missing are installed in one go. */
export async function ensureAllDebian(wanted) {
  const missing = wanted.filter(([program]) => !found(program));
  if (missing.length === 0) return;
  const programs = missing.map(([program]) => program).join(', ');
  const packages = missing.map(([, debianPackage]) => debianPackage);
  const [is, them] = missing.length === 1 ? ['is', 'it'] : ['are', 'them'];
  const command = `apt-get install -y --no-install-recommends ${packages.join(' ')}`;
  if (!findProgram(['apt-get']))
    throw new Trouble(`${programs} ${is} missing, and this is not Debian: install ${packages.join(', ')} yourself.`);
  if (process.getuid?.() !== 0) throw new Trouble(`${programs} ${is} missing. Install ${them} with: sudo ${command}`);
  console.log(`Installing ${packages.join(', ')} from Debian's packages …`);
  const quiet = { stdio: ['ignore', 'ignore', 'inherit'], env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' } };
  if (packages.some((one) => spawnSync('apt-cache', ['show', one], { stdio: 'ignore' }).status !== 0))
    await run('apt-get', ['update'], quiet);
  const install = () =>
    run('apt-get', ['install', '-y', '--no-install-recommends', '-o', 'DPkg::Lock::Timeout=300', ...packages], quiet);
  // the list of packages may be older than what the mirror holds
  await install().catch(async () => {
    await run('apt-get', ['update'], quiet);
    await install();
  });
  const still = missing.find(([program]) => !found(program));
  if (still) throw new Trouble(`${still[1]} is installed, but ${still[0]} is still missing.`);
}

function* filesIn(folder) {
  for (const entry of readdirSync(folder, { withFileTypes: true })) {
    if (entry.name === 'node_modules' || entry.name === 'dist') continue;
    const path = join(folder, entry.name);
    if (entry.isDirectory()) yield* filesIn(path);
    else if (!entry.name.endsWith('.test.ts')) yield path;
  }
}

/** Builds the web application where its sources have changed since the last build. */
export async function ensureBuilt() {
  const sources = ['core', 'api', 'web'].flatMap((folder) => [...filesIn(join(root, folder))]).sort();
  sources.push(join(root, 'package-lock.json'));
  const wanted = hashOf(sources.flatMap((file) => [file.slice(root.length), readFileSync(file)]));
  const marker = join(root, 'web/dist/.sources');
  if (readIfThere(marker) === wanted && existsSync(join(root, 'web/dist/index.html'))) return;
  console.log('Building the web application …');
  await run(process.execPath, [join(root, 'node_modules/vite/bin/vite.js'), 'build', '--logLevel', 'warn'], {
    cwd: join(root, 'web'),
    // whoever builds, tests too: the page is what people get, not the slow variant for development
    env: { ...process.env, NODE_ENV: 'production' },
  });
  writeFileSync(marker, wanted);
}

/** Is the port free on loopback? */
export function portIsFree(port) {
  return new Promise((done) => {
    const probe = createServer();
    probe.once('error', () => done(false));
    probe.listen(port, '127.0.0.1', () => probe.close(() => done(true)));
  });
}

export function freePort() {
  return new Promise((done, fail) => {
    const probe = createServer();
    probe.once('error', fail);
    probe.listen(0, '127.0.0.1', () => {
      const { port } = probe.address();
      probe.close(() => done(port));
    });
  });
}

export function isAlive(pid) {
  if (!pid) return false;
  try {
    process.kill(pid, 0);
    return true;
  } catch (error) {
    return error.code === 'EPERM';
  }
}

export function isFolder(path) {
  return existsSync(path) && statSync(path).isDirectory();
}

/** Runs a script's main part; trouble becomes one sentence and status 1. */
export async function main(body) {
  try {
    await body();
  } catch (error) {
    if (error instanceof Trouble) console.error(`\n${error.message}`);
    else console.error(error);
    process.exitCode = 1;
  }
}
