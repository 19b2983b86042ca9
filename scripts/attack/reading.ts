import { spawn } from 'node:child_process';
import { createInterface } from 'node:readline';
import { fileURLToPath } from 'node:url';

/** What a reading process says: that it begins with a file, and how it went. */
export type ReadLine =
  | { readonly at: number; readonly begins: true }
  | {
      readonly at: number;
      readonly name: string;
      readonly ms: number;
      readonly isRead: boolean;
      readonly wrong?: string;
    };

export interface ReadingTold {
  read: number;
  refused: number;
  slowest: number;
  readonly faults: string[];
}

/** One file may take so long, in milliseconds. */
const longest = 20_000;

/**
 * Broken files of all formats through the readers themselves, in a few processes. A fault is an error that is no
 * sentence for people, a document that breaks a rule, and a file that takes longer than 20 seconds.
 */
export async function readBroken(count: number, processes: number): Promise<ReadingTold> {
  const told: ReadingTold = { read: 0, refused: 0, slowest: 0, faults: [] };
  const each = Math.ceil(count / processes);
  await Promise.all(Array.from({ length: processes }, (_, i) => readIn(i + 1, each, told)));
  return told;
}

async function readIn(seed: number, count: number, told: ReadingTold): Promise<void> {
  const child = spawn(
    process.execPath,
    ['--import', 'tsx', fileURLToPath(new URL('reading-child.ts', import.meta.url)), String(seed), String(count)],
    { stdio: ['ignore', 'pipe', 'inherit'] },
  );
  let timer: NodeJS.Timeout | undefined;
  let done = 0;
  for await (const text of createInterface({ input: child.stdout })) {
    const line = JSON.parse(text) as ReadLine;
    clearTimeout(timer);
    if ('begins' in line) {
      timer = setTimeout(() => {
        told.faults.push(`file ${line.at} of seed ${seed} took longer than ${longest / 1000} s`);
        child.kill('SIGKILL');
      }, longest);
      continue;
    }
    done++;
    if (line.isRead) told.read++;
    else told.refused++;
    told.slowest = Math.max(told.slowest, line.ms);
    if (line.wrong !== undefined) told.faults.push(`file ${line.at} of seed ${seed} (${line.name}): ${line.wrong}`);
  }
  if (done < count) told.faults.push(`of seed ${seed} only ${done} of ${count} files were read`);
}
