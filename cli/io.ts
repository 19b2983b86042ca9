import { existsSync, readFileSync, realpathSync, statSync } from 'node:fs';
import { readFile, rename, rm, writeFile } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { gzipSync } from 'node:zlib';
import { type Catalogue, catalogueSchema, emptyCatalogue } from '@basitax/core/document/catalogue';
import { Kinds } from '@basitax/core/document/kinds';
import { UnreadableFile } from '@basitax/core/document/unreadable';
import { finding } from '@basitax/core/finding';
import { decodeFile } from '@basitax/core/formats/decode';
import { factsOf, formatIds } from '@basitax/core/formats/endings';
import { formatOf, lostInPictures, readBytes, type WriteOptions, written } from '@basitax/core/formats/formats';
import { jsonAs } from '@basitax/core/formats/json-as';
import { planOf } from '@basitax/core/formats/table-plan';
import { z } from 'zod';
import { bytesInArchive } from './archives.ts';
import { type Loaded, Unusable } from './command.ts';
import { isPicture, pictureEndings, pictureOf } from './pictures.ts';

/** What stands for the input or the output in place of a file. */
export const standard = '-';

/** Endings by what a format may be called on the command line: its id, or one of its endings without the full stop. */
const endingBy = new Map<string, string>(
  formatIds.flatMap((id) => {
    const { extensions } = factsOf(id);
    return [[id, extensions[0]] as const, ...extensions.map((ending) => [ending.slice(1), ending] as const)];
  }),
);
for (const ending of pictureEndings) endingBy.set(ending.slice(1), ending);
export const formatNames: readonly string[] = [...endingBy.keys()];

/** The ending of a format that was named. Throws Unusable where there is none of that name. */
export function endingNamed(format: string): string {
  const ending = endingBy.get(format.replace(/^\./, ''));
  if (ending === undefined) throw new Unusable(`there is no format “${format}”. There are: ${formatNames.join(', ')}.`);
  return ending;
}

/** What is said of how a file is to be read. */
export interface HowToRead {
  /** Its format, where its name does not show it. */
  readonly from?: string | undefined;
  /** What the columns of a table are. */
  readonly columns?: string | undefined;
  /** A table of nodes that belongs to a table of edges. */
  readonly beside?: string | undefined;
}

/** Does something with a file; what cannot be read is told with the file and the line. Throws Unusable. */
function told<T>(file: string, act: () => T): T {
  try {
    return act();
  } catch (error) {
    if (!(error instanceof UnreadableFile)) throw error;
    const at = error.line === undefined ? '' : `:${error.line}`;
    throw new Unusable(`${file}${at}: ${error.message.replace(/^Line \d+: /, '')}`);
  }
}

const asContent = ({ text, lost }: ReturnType<typeof written>) => ({ content: text, lost });

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
      const packed = bytesInArchive(file);
      if (packed) return Buffer.from(packed);
      if (statSync(file).isDirectory()) throw new Unusable(`${file}: this is a folder, not a file.`);
      return await readFile(file);
    } catch (error) {
      if (error instanceof Unusable) throw error;
      const { code, message } = error as NodeJS.ErrnoException;
      throw new Unusable(`${file}: ${code === 'ENOENT' ? 'there is no such file' : message}.`);
    }
  }

  async text(file: string, name = file): Promise<string> {
    const bytes = await this.bytes(file);
    return told(file, () => decodeFile(bytes, name).text);
  }

  /** A file as JSON of a shape. Throws Unusable with the file and what is wrong. */
  async json<T extends z.ZodType>(file: string, schema: T, what: string): Promise<z.output<T>> {
    const text = await this.text(file);
    return told(file, () => jsonAs(schema, text, what));
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
      throw new Unusable(`${file}: this is not a catalogue: ${why}.`);
    }
  }

  /** A graph with its kinds: those of the catalogue that is named, or of the one that lies beside it. */
  async load(file: string, named: string | undefined, how: HowToRead): Promise<Loaded> {
    const { from, columns, beside: nodes } = how;
    if (file === standard && from === undefined && process.stdin.isTTY)
      throw new Unusable('nothing is piped into standard input. Name a file, or pipe one in.');
    const own = file === standard ? 'input' : file;
    const name = from === undefined ? own : `${own}${endingNamed(from)}`;
    const bytes = await this.bytes(file);
    const options = {
      ...(columns !== undefined && { plan: told(file, () => planOf(decodeFile(bytes, name).text, columns)) }),
      ...(nodes !== undefined && { beside: await this.text(nodes) }),
    };
    const read = (kinds: Kinds): Loaded => told(file, () => ({ kinds, ...readBytes(name, bytes, kinds, options) }));
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

  /**
   * A document in a format, by a name, packed where that ends in .gz, what of it is not in there, and what else there is to
   * say. Throws Unusable.
   */
  async contentOf(
    name: string,
    loaded: Pick<Loaded, 'doc' | 'kinds'>,
    { scale = 1, ...options }: WriteOptions & { readonly scale?: number },
  ): Promise<{ readonly content: string | Uint8Array; readonly lost: readonly string[]; readonly note?: string }> {
    const plain = name.replace(/\.gz$/i, '');
    try {
      const { content, ...told } = isPicture(plain)
        ? { ...(await pictureOf(plain, loaded, scale)), lost: lostInPictures }
        : asContent(written(formatOf(plain), loaded.doc, loaded.kinds, options));
      return { content: plain === name ? content : gzipSync(content), ...told };
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
