import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

/** A graph as another program has read it. */
export interface Judged {
  readonly error?: string;
  readonly directed: boolean;
  readonly graph: Readonly<Record<string, unknown>>;
  readonly nodes: readonly (readonly [string, Readonly<Record<string, unknown>>])[];
  readonly edges: readonly (readonly [string, string, Readonly<Record<string, unknown>>])[];
  readonly rows?: readonly Readonly<Record<string, string>>[];
}

export interface Wanted {
  readonly reader: 'networkx' | 'igraph' | 'csv';
  readonly format: string;
  readonly text: string;
}

/** What Debian's networkx, igraph and csv find in texts. They are asked in one go, since they take long to start. */
export function judged(all: readonly Wanted[]): Judged[] {
  const folder = mkdtempSync(join(tmpdir(), 'basitax-readers-'));
  try {
    const lines = all.map(({ reader, format, text }, i) => {
      const path = join(folder, `${i}.${format}`);
      writeFileSync(path, text);
      return JSON.stringify({ reader, format, path });
    });
    // Debian's own Python has its packages, whatever other one is first
    const run = spawnSync('/usr/bin/python3', [join(import.meta.dirname, 'readers.py')], {
      input: lines.join('\n'),
      encoding: 'utf8',
      maxBuffer: 1e9,
    });
    if (run.status !== 0) throw new Error(`the judges failed: ${run.stderr}`);
    const answers = run.stdout.trim().split('\n');
    if (answers.length !== all.length) throw new Error(`the judges gave ${answers.length} answers to ${all.length}`);
    return answers.map((line) => JSON.parse(line) as Judged);
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

/** A program of Debian's graphviz, given a text. Returns what it says; throws where it fails. */
export function graphviz(program: string, args: readonly string[], text: string): { out: string; warnings: string } {
  const run = spawnSync(program, args, { input: text, encoding: 'utf8', maxBuffer: 1e9 });
  if (run.error) throw run.error;
  if (run.status !== 0 && run.stdout === '') throw new Error(`${program} failed: ${run.stderr}`);
  return { out: run.stdout, warnings: run.stderr };
}
