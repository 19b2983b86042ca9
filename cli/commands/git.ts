import { emptyCatalogue } from '@basitax/core/document/catalogue';
import type { Doc } from '@basitax/core/document/doc';
import { parseDoc, writeDoc } from '@basitax/core/document/file';
import { Kinds } from '@basitax/core/document/kinds';
import { UnreadableFile } from '@basitax/core/document/unreadable';
import { mergeDocs } from '@basitax/core/edit/merge';
import { wordsOf } from '@basitax/core/formats/words';
import { plural } from '@basitax/core/words';
import { type Command, command, readOptions, Unusable } from '../command.ts';
import { fileCommand } from '../engine.ts';
import type { Io } from '../io.ts';

/** git gives its versions names without an ending: what is merged is always our own format. */
async function docOf(io: Io, file: string, name: string): Promise<Doc> {
  const text = await io.text(file);
  try {
    return parseDoc(text).doc;
  } catch (error) {
    if (error instanceof UnreadableFile)
      throw new Unusable(`${name}: ${error.message} Only .graph.json files can be merged.`);
    throw error;
  }
}

export const gitCommands: readonly Command[] = [
  command({
    name: 'merge',
    usage: 'BASE OURS THEIRS [--name FILE] [--report FILE] [-o OUT]',
    about: 'Merges two versions into OURS; on a conflict ours is kept and the status is 3.',
    options: {
      catalogue: readOptions.catalogue,
      output: { type: 'string', short: 'o', value: 'OUT', about: 'Where to write. By default OURS.' },
      name: { type: 'string', value: 'FILE', about: 'The name of the file in messages: %P of git.' },
      report: {
        type: 'string',
        value: 'FILE',
        about: 'Where to write conflicts, one a line; no file without any.',
      },
    },
    async run({ words, values, io }) {
      if (words.length !== 3)
        throw new Unusable(`merge takes three files, BASE OURS THEIRS, not ${words.length}. See basitax merge --help.`);
      const [base, ours, theirs] = words as [string, string, string];
      const out = values.output ?? ours;
      const name = values.name ?? out;
      const docs = await Promise.all([base, ours, theirs].map((file) => docOf(io, file, values.name ?? file)));
      const kinds = new Kinds(values.catalogue === undefined ? emptyCatalogue : await io.catalogue(values.catalogue));
      const { doc, said, findings } = mergeDocs(...(docs as [Doc, Doc, Doc]), kinds);
      await io.write(out, writeDoc(doc));
      const lines = said.map((sentence) => `${name}: conflict: ${sentence}`);
      if (values.report !== undefined && lines.length > 0) await io.write(values.report, `${lines.join('\n')}\n`);
      if (values.json)
        process.stdout.write(
          `${JSON.stringify({ file: name, status: said.length === 0 ? 'fine' : 'conflict', conflicts: said, findings })}\n`,
        );
      else {
        for (const item of findings) process.stderr.write(`${name}: ${item.severity}: ${item.message}\n`);
        for (const line of lines) process.stderr.write(`${line}\n`);
        if (!values.quiet)
          process.stdout.write(
            said.length === 0
              ? `${name}: merged.\n`
              : `${name}: merged, but for ${plural(said.length, 'conflict')}, in which ours is kept.\n`,
          );
      }
      if (said.length > 0) return 'conflict';
      return findings.some((item) => item.severity === 'error') ? 'findings' : 'fine';
    },
  }),
  fileCommand({
    name: 'words',
    usage: 'FILE…',
    about: 'A file in words, a line for each thing: what git compares as text (textconv).',
    options: {},
    writes: false,
    says: 'block',
    each: (_file, { doc }) => {
      const lines = wordsOf(doc);
      return { text: lines.join('\n'), json: { lines } };
    },
  }),
];
