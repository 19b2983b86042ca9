// Broken files read one after the other, in a process of its own, so that one that does not end can be ended: a line of
// JSON before and after each.
import { Kinds } from '@basitax/core/document/kinds';
import { UnreadableFile } from '@basitax/core/document/unreadable';
import { problems } from '@basitax/core/document/validate';
import { readFile } from '@basitax/core/formats/formats';
import { catalogue } from '@basitax/demo/catalogue';
import { brokenFiles } from './broken-files.ts';
import type { ReadLine } from './reading.ts';

const [seed, count] = process.argv.slice(2).map(Number) as [number, number];
const kinds = new Kinds(catalogue);
const say = (line: ReadLine): void => void process.stdout.write(`${JSON.stringify(line)}\n`);

let at = 0;
for (const { name, text } of brokenFiles(count, seed)) {
  say({ at, begins: true });
  const started = performance.now();
  let wrong: string | undefined;
  let isRead = false;
  try {
    const odd = problems(readFile(name, text, kinds).doc);
    if (odd.length > 0) wrong = `what was read breaks a rule: ${odd[0]}`;
    isRead = true;
  } catch (error) {
    if (!(error instanceof UnreadableFile)) wrong = error instanceof Error ? String(error.stack) : String(error);
  }
  say({ at, name, ms: performance.now() - started, isRead, ...(wrong !== undefined && { wrong }) });
  at++;
}
