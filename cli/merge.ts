import { emptyCatalogue } from '@basitax/core/document/catalogue';
import type { Doc } from '@basitax/core/document/doc';
import { parseDoc, writeDoc } from '@basitax/core/document/file';
import { Kinds } from '@basitax/core/document/kinds';
import { UnreadableFile } from '@basitax/core/document/unreadable';
import { mergeDocs } from '@basitax/core/edit/merge';
import { must } from '@basitax/core/must';
import type { Files } from './batch.ts';
import { Unusable } from './unusable.ts';

/** git gives its versions names without an ending: what is merged is always our own format. */
async function docOf(files: Files, file: string): Promise<Doc> {
  const text = await files.text(file);
  try {
    return parseDoc(text).doc;
  } catch (error) {
    if (error instanceof UnreadableFile)
      throw new Unusable(`${file}: ${error.message} Only .graph.json files can be merged.`);
    throw error;
  }
}

/**
 * `merge BASE OURS THEIRS`: into OURS, as git wants it of a merge driver, or into -o OUT; 1 where there are conflicts,
 * in which ours is kept.
 */
export async function merge(
  files: Files,
  names: readonly string[],
  values: { readonly output?: string | undefined; readonly catalogue?: string | undefined },
): Promise<number> {
  const [base, ours, theirs] = [
    await docOf(files, must(names[0])),
    await docOf(files, must(names[1])),
    await docOf(files, must(names[2])),
  ];
  const kinds = new Kinds(values.catalogue === undefined ? emptyCatalogue : await files.catalogue(values.catalogue));
  const { doc, conflicts, findings } = mergeDocs(base, ours, theirs, kinds);
  const out = values.output ?? must(names[1]);
  await files.write(out, writeDoc(doc));
  files.complain(out, findings);
  for (const one of conflicts) process.stderr.write(`${out}: conflict: ${one.message}\n`);
  files.say(
    conflicts.length === 0
      ? 'Merged.'
      : `Merged but for ${conflicts.length === 1 ? 'one conflict' : `${conflicts.length} conflicts`}, in which ours was kept.`,
  );
  return conflicts.length === 0 ? 0 : 1;
}
