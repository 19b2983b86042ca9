import { dump, JSON_SCHEMA, load, YAMLException } from 'js-yaml';
import type { Doc } from '../document/doc.ts';
import { docFromJson, parseJson, type ReadFile, writeDoc } from '../document/file.ts';
import { mostNested } from '../document/nesting.ts';
import { UnreadableFile } from '../document/unreadable.ts';
import { say } from './sentences.ts';

/** Reads Graph JSON that is written as YAML 1.2, without references within it. Throws UnreadableFile. O(text). */
export function readYaml(text: string): ReadFile {
  let raw: unknown;
  try {
    raw = load(text, { schema: JSON_SCHEMA, maxDepth: mostNested.json });
  } catch (error) {
    if (!(error instanceof YAMLException)) throw error;
    const line = (error.mark as { line?: number } | undefined)?.line;
    throw new UnreadableFile(say('not-yaml', { why: error.reason }), line === undefined ? undefined : line + 1);
  }
  checkTree(raw);
  return docFromJson(raw);
}

/** What stands in two places would grow without bound when it is written out. */
function checkTree(raw: unknown): void {
  const seen = new Set<object>();
  const todo: unknown[] = [raw];
  while (todo.length > 0) {
    const at = todo.pop();
    if (typeof at !== 'object' || at === null) continue;
    if (seen.has(at)) throw new UnreadableFile(say('yaml-references'));
    seen.add(at);
    todo.push(...Object.values(at));
  }
}

/** The document as YAML: a field to a line, what is nested in records in one. O(document). */
export function writeYaml(doc: Doc): string {
  return dump(parseJson(writeDoc(doc)), { schema: JSON_SCHEMA, noRefs: true, lineWidth: -1, flowLevel: 3 });
}
