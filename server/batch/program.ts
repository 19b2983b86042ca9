import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { build } from 'esbuild';

const at = (path: string): string => fileURLToPath(new URL(path, import.meta.url));

/**
 * The path of the program that a worker process runs: our own sources as plain JavaScript, with its thread beside it. Without a loader a process holds
 * two thirds of the memory, and the code is faster. Made where it is not there yet, in under a second; any number of processes may ask at once.
 */
export async function workerProgram(): Promise<string> {
  const { outputFiles } = await build({
    entryPoints: { 'worker-main': at('./worker-main.ts'), thread: at('../../threads/worker.ts') },
    outdir: at('../dist'),
    outExtension: { '.js': '.mjs' },
    bundle: true,
    write: false,
    platform: 'node',
    format: 'esm',
    target: 'node20',
    // packages stay outside; what is ours is put in
    plugins: [
      {
        name: 'packages',
        setup: (one) => one.onResolve({ filter: /^[^./]/ }, ({ path, kind }) => (kind === 'entry-point' || path.startsWith('@basitax/') ? undefined : { path, external: true })),
      },
    ],
    logLevel: 'silent',
  });
  const hash = outputFiles
    .reduce((sum, file) => sum.update(file.contents), createHash('sha256'))
    .digest('hex')
    .slice(0, 16);
  const folder = at(`../dist/worker-${hash}`);
  if (!existsSync(folder)) {
    const fresh = `${folder}.${process.pid}`;
    mkdirSync(fresh, { recursive: true });
    for (const file of outputFiles) writeFileSync(join(fresh, basename(file.path)), file.contents);
    try {
      renameSync(fresh, folder);
    } catch (error) {
      // another process was first: it made the same
      rmSync(fresh, { recursive: true });
      if (!existsSync(folder)) throw new Error(`The program of the workers cannot be written to ${dirname(folder)}: ${error instanceof Error ? error.message : String(error)}`);
    }
  }
  return join(folder, 'worker-main.mjs');
}
