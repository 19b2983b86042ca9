import { existsSync, readFileSync, realpathSync, statSync } from 'node:fs';
import { readFile, rename, rm, writeFile } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { type Catalogue, catalogueSchema, emptyCatalogue } from '@basitax/core/document/catalogue';
import { Kinds } from '@basitax/core/document/kinds';
import { UnreadableFile } from '@basitax/core/document/unreadable';
import { finding } from '@basitax/core/finding';
import { decodeFile } from '@basitax/core/formats/decode';
import { endings } from '@basitax/core/formats/endings';
import { formatOf, readFile as readGraph, type WriteOptions, written } from '@basitax/core/formats/formats';
import { jsonAs } from '@basitax/core/formats/json-as';
import { z } from 'zod';
import { type Loaded, Unusable } from './command.ts';

/** What stands for the input or the output in place of a file. */
export const standard = '-';

/** Endings by what a format may be called on the command line: its id, or one of its endings without the full stop. */
const endingBy = new Map(
  Object.entries(endings).flatMap(([id, all]) => [
    [id, all[0]] as const,
    ...all.map((ending) => [ending.slice(1), ending] as const),
  ]),
);
export const formatNames: readonly string[] = [...endingBy.keys()];

/** The ending of a format that was named. Throws Unusable where there is none of that name. */
export function endingNamed(format: string): string {
  const ending = endingBy.get(format.replace(/^\./, ''));
  if (ending === undefined) throw new Unusable(`there is no format “${format}”. There are: ${formatNames.join(', ')}.`);
  return ending;
}

/** How commands read and write. */
export class Io {
  private standardInput: Buffer | undefined;
  private readonly catalogues = new Map<string, Catalogue>();

  /** What a file holds. Throws Unusable where it cannot be read. */
  async bytes(file: string): Promise<Buffer> {
    if (file === standard) {
      this.standardInput ??= readFileSync(0);
      return this.standardInput;
    }
    try {
      if (statSync(file).isDirectory()) throw new Unusable(`${file}: this is a folder, not a file.`);
      return await readFile(file);
    } catch (error) {
      if (error instanceof Unusable) throw error;
      const { code, message } = error as NodeJS.ErrnoException;
      throw new Unusable(`${file}: ${code === 'ENOENT' ? 'there is no such file' : message}.`);
    }
  }

  async text(file: string, name = file): Promise<string> {
    const text = decodeFile(await this.bytes(file), name);
    if (text === undefined) throw new Unusable(`${file}: the file is no UTF-8 text.`);
    return text;
  }

  /** A file as JSON of a shape. Throws Unusable with the file and what is wrong. */
  async json<T extends z.ZodType>(file: string, schema: T, what: string): Promise<z.output<T>> {
    try {
      return jsonAs(schema, await this.text(file), what);
    } catch (error) {
      throw error instanceof UnreadableFile ? new Unusable(`${file}: ${error.message}`) : error;
    }
  }

  async catalogue(file: string): Promise<Catalogue> {
    const known = this.catalogues.get(file);
    if (known) return known;
    const text = await this.text(file);
    try {
      const catalogue = catalogueSchema.parse(JSON.parse(text));
      this.catalogues.set(file, catalogue);
      return catalogue;
    } catch (error) {
      const why =
        error instanceof z.ZodError
          ? `${error.issues[0]?.path.join('.')}: ${error.issues[0]?.message}`
          : (error as Error).message;
      throw new Unusable(`${file}: this is no catalogue: ${why}.`);
    }
  }

  /** A graph with its kinds: those of the catalogue that is named, or of the one that lies beside it. */
  async load(file: string, named: string | undefined, format: string | undefined): Promise<Loaded> {
    if (file === standard && format === undefined)
      throw new Unusable(
        `standard input has no name that shows its format; give the format with --from, such as --from graph.json.`,
      );
    const name = format === undefined ? file : `${file === standard ? 'input' : file}${endingNamed(format)}`;
    const text = await this.text(file, name);
    const read = (kinds: Kinds): Loaded => {
      try {
        return { kinds, ...readGraph(name, text, kinds) };
      } catch (error) {
        if (error instanceof UnreadableFile)
          throw new Unusable(
            `${file}${error.line === undefined ? '' : `:${error.line}`}: ${error.message.replace(/^Line \d+: /, '')}`,
          );
        throw error;
      }
    };
    if (named !== undefined) return read(new Kinds(await this.catalogue(named)));
    const first = read(new Kinds(emptyCatalogue));
    const { id } = first.doc.head.catalogue;
    const beside = join(file === standard ? '.' : dirname(file), `${id}.catalogue.json`);
    if (existsSync(beside)) return read(new Kinds(await this.catalogue(beside)));
    if (id === emptyCatalogue.id) return first;
    const missing = finding(
      'no-catalogue',
      'info',
      [],
      `The catalogue “${id}” is not beside the file, so its kinds are unknown here: sizes, ends, checks and fingerprints may differ. Name it with --catalogue.`,
    );
    return { ...first, findings: [...first.findings, missing] };
  }

  /** A document as the text of a format, by a name, and what of it is not in there. */
  textOf(name: string, { doc, kinds }: Pick<Loaded, 'doc' | 'kinds'>, options: WriteOptions) {
    try {
      return written(formatOf(name), doc, kinds, options);
    } catch (error) {
      if (error instanceof UnreadableFile) throw new Unusable(error.message);
      throw error;
    }
  }

  /** Writes a file whole or not at all: what stood there stays where it cannot be. */
  async write(file: string, text: string | Uint8Array): Promise<void> {
    // what a link leads to is written, and keeps who may read it
    const target = existsSync(file) ? realpathSync(file) : file;
    const known = existsSync(target) ? statSync(target) : undefined;
    const draft = `${target}.${process.pid}.part`;
    try {
      // a pipe or a device is written to as it is
      if (known && !known.isFile()) await writeFile(target, text);
      else {
        await writeFile(draft, text, known && { mode: known.mode & 0o777 });
        await rename(draft, target);
      }
    } catch (error) {
      await rm(draft, { force: true });
      throw new Unusable(`${file} cannot be written: ${(error as Error).message}.`);
    }
  }
}
