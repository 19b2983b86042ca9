// Our own sources as plain JavaScript. Plain itself, since what starts a program has no loader yet.
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, readFileSync, renameSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

/** The folder of the project, also where this stands in a program that it made itself. */
let root = dirname(fileURLToPath(import.meta.url));
while (!existsSync(join(root, 'package-lock.json'))) root = dirname(root);

/** All folders of sources that a program may be made of. */
const folders = ['core', 'api', 'threads', 'print', 'cli', 'server', 'demo'];
/**
 * Packages that look for files of their own beside them, are native code, or are one large file: they stay. All
 * others are put in, since hundreds of small files take a second to be found.
 */
const outside = [
  '@jitl/quickjs-wasmfile-release-sync',
  '@node-rs/argon2',
  '@resvg/resvg-js',
  '@typescript/vfs',
  'esbuild',
  'fontkit',
  'mariadb',
  'pdfkit',
  'pino',
  'piscina',
  'sequelize',
  'tsx',
  'typescript',
];
/** How long a program of older sources is kept, in milliseconds: processes that run it may still load their threads. */
const keptFor = 86_400_000;

/**
 * What tells one state of the sources and packages from another: names, sizes and times of files. Some ten
 * milliseconds.
 */
function stateOf() {
  const hash = createHash('sha256');
  const add = (path) => {
    const { size, mtimeMs } = statSync(path);
    hash.update(`${path} ${size} ${mtimeMs}\n`);
  };
  const walk = (folder) => {
    for (const entry of readdirSync(folder, { withFileTypes: true })) {
      if (entry.name === 'node_modules' || entry.name === 'dist') continue;
      const path = join(folder, entry.name);
      if (entry.isDirectory()) walk(path);
      else if (/\.(ts|json)$/.test(entry.name) && !entry.name.endsWith('.test.ts')) add(path);
    }
  };
  for (const folder of folders) walk(join(root, folder));
  for (const path of ['package-lock.json', 'threads/program.mjs']) add(join(root, path));
  return hash.digest('hex');
}

/** Removes programs of that name that older sources made, a day after they were. */
function removeOld(made, name, present) {
  for (const entry of readdirSync(made)) {
    const path = join(made, entry);
    if (path === present || !new RegExp(`^${name}-[0-9a-f]{16}$`).test(entry)) continue;
    if (Date.now() - statSync(path).mtimeMs > keptFor) rmSync(path, { recursive: true, force: true });
  }
}

/**
 * A program: an entry of ours as `NAME.mjs` in a folder of its own, and beside it `thread.mjs` for its worker threads.
 * Without a loader a process starts in a fraction of the time, holds two thirds of the memory, and runs faster. Made
 * where it is not there yet or the sources have changed, in about a second; any number of processes may ask at once.
 * Throws an error that says where it cannot be written.
 *
 * @param {string} name what the program is called
 * @param {string} entry its source, from the root of the project
 * @param {string} dist the folder for programs, from there too
 * @returns {Promise<string>} the path of the program
 */
export async function program(name, entry, dist) {
  const made = join(root, dist);
  const note = join(made, `${name}.state`);
  const state = stateOf();
  if (existsSync(note)) {
    const [known, path] = readFileSync(note, 'utf8').split('\n');
    if (known === state && existsSync(path)) return path;
  }
  const { build } = await import('esbuild');
  const { outputFiles } = await build({
    entryPoints: { [name]: join(root, entry), thread: join(root, 'threads/worker.ts') },
    outdir: made,
    outExtension: { '.js': '.mjs' },
    bundle: true,
    write: false,
    platform: 'node',
    format: 'esm',
    target: 'node20',
    // what is wanted at times only is a file of its own, loaded then
    splitting: true,
    external: outside,
    // packages of the older kind ask for Node's parts by require
    banner: {
      js: "import { createRequire as requireFrom } from 'node:module'; const require = requireFrom(import.meta.url);",
    },
    logLevel: 'silent',
  });
  const hash = outputFiles
    .reduce((sum, file) => sum.update(file.contents), createHash('sha256'))
    .digest('hex')
    .slice(0, 16);
  const folder = join(made, `${name}-${hash}`);
  const path = join(folder, `${name}.mjs`);
  try {
    if (!existsSync(folder)) {
      const fresh = `${folder}.${process.pid}`;
      mkdirSync(fresh, { recursive: true });
      for (const file of outputFiles) writeFileSync(join(fresh, basename(file.path)), file.contents);
      try {
        renameSync(fresh, folder);
      } catch (error) {
        // another process was first: it made the same
        rmSync(fresh, { recursive: true });
        if (!existsSync(folder)) throw error;
      }
    }
    const own = `${note}.${process.pid}`;
    writeFileSync(own, `${state}\n${path}`);
    renameSync(own, note);
    removeOld(made, name, folder);
  } catch (error) {
    throw new Error(
      `The program ${name} cannot be written to ${dirname(folder)}: ${error instanceof Error ? error.message : String(error)}`,
      { cause: error },
    );
  }
  return path;
}

/** Codes of errors that say that nothing can be written there. */
const unwritable = ['EACCES', 'EROFS', 'EPERM', 'ENOSPC'];

/**
 * The same; undefined where the program cannot be written. Then it has to run from its sources, which takes several
 * times as long to start.
 *
 * @returns {Promise<string | undefined>} the path of the program
 */
export async function programIfWritable(name, entry, dist) {
  try {
    return await program(name, entry, dist);
  } catch (error) {
    if (unwritable.includes(error.cause?.code)) return undefined;
    throw error;
  }
}

/**
 * What Node takes to run the server.
 *
 * @returns {Promise<string[]>} arguments of Node
 */
export async function serverArguments() {
  const path = await programIfWritable('server', 'server/main.ts', 'server/dist');
  return path === undefined ? ['--import', 'tsx', join(root, 'server/main.ts')] : [path];
}
