import { mkdirSync } from 'node:fs';
import { dirname, join, relative, sep } from 'node:path';
import { isMainThread, Worker } from 'node:worker_threads';
import { UnreadableFile } from '@basitax/core/document/unreadable';
import { diff } from '@basitax/core/edit/diff';
import { type Finding, limitFindings } from '@basitax/core/finding';
import { type Entry, zipOf } from '@basitax/core/formats/archive';
import { keepersWords } from '@basitax/core/formats/endings';
import { parseFileQuery } from '@basitax/core/query/files';
import { QueryError } from '@basitax/core/query/query';
import { Refused } from '@basitax/core/said';
import { inArchive, isZipName } from './archives.ts';
import {
  type Call,
  type Command,
  type CommonValues,
  command,
  type Done,
  type Loaded,
  type OptionSpec,
  type Outcome,
  readOptions,
  type Status,
  statuses,
  Unusable,
  type ValuesOf,
  worst,
  writeOptions,
} from './command.ts';
import { fitsQuery } from './file-query.ts';
import { endingNamed, standard } from './io.ts';
import { filesNamed, isFolder, placeFor, stemOf } from './names.ts';
import { mostAtOnce } from './threads.ts';

interface FileCommand<O extends Readonly<Record<string, OptionSpec>>, P> {
  readonly name: string;
  readonly usage: string;
  readonly about: string;
  readonly options: O;
  /** Words before the files, such as the script. */
  readonly lead?: readonly string[];
  readonly writes: boolean;
  /** `lines`: each line of text has the file before it; `block`: the file stands over the text, where there are several. */
  readonly says: 'lines' | 'block';
  /** Is all the work in `each`, so that files can be given to several threads? */
  inThreads?(call: Call<ValuesOf<O>>): boolean;
  /** Is a record in JSON wanted by another option than --json? */
  inJson?(call: Call<ValuesOf<O>>): boolean;
  /** How many files at a time, where others do the work. */
  readonly atOnce?: number;
  /** What is read and checked once. */
  prepare?(call: Call<ValuesOf<O>>): Promise<P>;
  each(file: string, loaded: Loaded, call: Call<ValuesOf<O>>, prepared: P): Outcome | Promise<Outcome>;
  /** What is said after all files, where not of each by itself. */
  finish?(call: Call<ValuesOf<O>>, prepared: P): string | undefined | Promise<string | undefined>;
  close?(prepared: P): void;
  /** The files among the words, and where to write, where the words behind the lead are not just files. */
  words?(call: Call<ValuesOf<O>>): { readonly files: readonly string[]; readonly output?: string };
}

/** A command that does the same with each of its files. */
export function fileCommand<const O extends Readonly<Record<string, OptionSpec>>, P = undefined>(
  one: FileCommand<O, P>,
): Command {
  const options = { ...readOptions, ...(one.writes && writeOptions), ...one.options };
  return command({
    name: one.name,
    usage: one.usage,
    about: one.about,
    options,
    run: (call) => new Run(one, call as unknown as Call<ValuesOf<O>>).all(),
    serve: (call, take) => new Run(one, call as unknown as Call<ValuesOf<O>>).serve(take),
  });
}

/** What comes of a file that is not meant. */
const passedOver: Done = { status: 'fine', out: '', err: '' };

/** Pixels of a PNG for one at 100 % zoom. */
function scaleOf(text: string | undefined): number {
  const scale = Number(text ?? 1);
  if (scale >= 0.05 && scale <= 8) return scale;
  throw new Unusable(`--scale takes a number from 0.05 to 8, not “${text}”.`);
}

/** Fewer files than this are not worth starting threads for. */
const fewFiles = 4;

class Run<O extends Readonly<Record<string, OptionSpec>>, P> {
  private readonly one: FileCommand<O, P>;
  private readonly call: Call<ValuesOf<O>>;
  private readonly values: CommonValues;
  private files: readonly string[] = [];
  private output: string | undefined;
  private readonly packed: Entry[] = [];
  private scale = 1;

  constructor(one: FileCommand<O, P>, call: Call<ValuesOf<O>>) {
    this.one = one;
    this.call = call;
    this.values = one.inJson?.(call) ? { ...call.values, json: true } : call.values;
  }

  /** Finds the files that are meant, and where to write. */
  private async prepared(): Promise<P> {
    const { lead = [], name } = this.one;
    const { files, output } = this.one.words?.(this.call) ?? { files: this.call.words.slice(lead.length) };
    if (this.call.words.length < lead.length || files.length === 0)
      throw new Unusable(`${name} takes ${[...lead, 'at least one file'].join(' and ')}. See basitax ${name} --help.`);
    this.output = output ?? this.values.output;
    if (this.values.to !== undefined) endingNamed(this.values.to);
    this.scale = scaleOf(this.values.scale);
    this.files = filesNamed(files);
    // a mistake in it is told before anything is done
    if (this.values.files !== undefined) parseFileQuery(this.values.files);
    return (await this.one.prepare?.(this.call)) as P;
  }

  /** The archive that all is written to, where one is. */
  private get zip(): string | undefined {
    return this.output !== undefined && isZipName(this.output) ? this.output : undefined;
  }

  async all(): Promise<Status> {
    const prepared = await this.prepared();
    try {
      if (
        this.files.length > 1 &&
        this.output !== undefined &&
        this.output !== standard &&
        !isFolder(this.output) &&
        this.zip === undefined
      )
        throw new Unusable(
          `${this.output} is one place for ${this.files.length} files. Name a folder; end it with / if it does not exist yet.`,
        );
      return await (this.isForThreads() ? this.overThreads() : this.here(prepared));
    } finally {
      this.one.close?.(prepared);
    }
  }

  /** For a thread: takes files as they come. */
  async serve(take: (each: (file: string) => Promise<Done>, files: readonly string[]) => Promise<void>): Promise<void> {
    const prepared = await this.prepared();
    await take((file) => this.done(file, prepared), this.files);
  }

  private isForThreads(): boolean {
    return (
      this.one.inThreads?.(this.call) === true &&
      isMainThread &&
      this.files.length >= fewFiles &&
      mostAtOnce > 1 &&
      !this.files.includes(standard) &&
      this.output !== standard &&
      this.zip === undefined &&
      // from sources a thread has no loader
      import.meta.url.endsWith('.mjs')
    );
  }

  private async here(prepared: P): Promise<Status> {
    const told: Status[] = [];
    const atOnce = Math.min(this.one.atOnce ?? 1, this.files.length);
    const waiting: Promise<Done>[] = [];
    let isOver = false;
    // what has begun is told to its end, since it may have been written
    for (let i = 0; i < this.files.length; i++) {
      while (!isOver && waiting.length < Math.min(this.files.length, i + atOnce))
        waiting.push(this.done(this.files[waiting.length] as string, prepared));
      if (i === waiting.length) break;
      this.progress(i);
      const done = await (waiting[i] as Promise<Done>);
      this.print(done);
      told.push(done.status);
      isOver ||= this.stopsAt(done.status);
    }
    await this.writeArchive(told);
    this.end(await this.one.finish?.(this.call, prepared));
    return worst(told);
  }

  private async overThreads(): Promise<Status> {
    const results: (Done | undefined)[] = [];
    const told: Status[] = [];
    let [next, printed, isOver] = [0, 0, false];
    const threads = Array.from(
      { length: Math.min(mostAtOnce, this.files.length) },
      () => new Worker(new URL(import.meta.url), { workerData: { argv: process.argv.slice(2) } }),
    );
    const served = (thread: Worker): Promise<void> =>
      new Promise((done, fail) => {
        thread.on('error', fail);
        thread.on('message', (message: 'ready' | { at: number; done: Done }) => {
          if (message !== 'ready') {
            results[message.at] = message.done;
            for (let ready = results[printed]; ready; ready = results[++printed]) {
              this.print(ready);
              told.push(ready.status);
              isOver ||= this.stopsAt(ready.status);
            }
            this.progress(printed);
          }
          if (isOver || next >= this.files.length) done();
          else thread.postMessage(next++);
        });
      });
    try {
      await Promise.all(threads.map(served));
    } finally {
      await Promise.all(threads.map((thread) => thread.terminate()));
    }
    this.end(undefined);
    return worst(told);
  }

  private stopsAt(status: Status): boolean {
    return statuses[status] >= statuses.unusable && this.values['keep-going'] !== true;
  }

  private print({ out, err }: Done): void {
    this.progress(undefined);
    if (err !== '') process.stderr.write(err);
    if (out !== '') process.stdout.write(out);
  }

  private end(last: string | undefined): void {
    this.progress(undefined);
    if (last !== undefined && last !== '') process.stdout.write(last.endsWith('\n') ? last : `${last}\n`);
    if (this.values['dry-run'] && !this.values.json && !this.values.quiet)
      process.stdout.write('Dry run: nothing is written.\n');
  }

  /** On a terminal: which file of how many. */
  private progress(at: number | undefined): void {
    if (!process.stderr.isTTY || this.files.length < 2 || this.values.quiet) return;
    const name = at === undefined ? '' : `${at + 1} of ${this.files.length}: ${this.files[at] ?? ''}`;
    process.stderr.write(`\r\u001b[K${name.slice(0, (process.stderr.columns ?? 80) - 1)}`);
  }

  /** Everything about one file. */
  async done(file: string, prepared: P): Promise<Done> {
    try {
      const loaded = await this.call.io.load(file, this.values.catalogue, this.values);
      if (this.values.files !== undefined && !fitsQuery(this.values.files, file, loaded)) return passedOver;
      const outcome = await this.one.each(file, loaded, this.call, prepared);
      return await this.told(file, loaded, outcome);
    } catch (error) {
      const { status, message } = problemOf(error);
      const about = message.startsWith(file) ? message : `${file}: ${message}`;
      const out = this.values.json ? `${JSON.stringify({ file, status, error: message })}\n` : '';
      return { status, out, err: `basitax: ${about}\n` };
    }
  }

  private async told(file: string, loaded: Loaded, outcome: Outcome): Promise<Done> {
    const { values } = this;
    const notes: string[] = [];
    const packed = outcome.doc === undefined || this.output !== undefined ? undefined : inArchive(file);
    if (packed)
      throw new Unusable(`${packed.archive} is an archive, in which nothing is written. Name a place with --output.`);
    const place = placeFor(file, { output: this.output, to: values.to });
    const isChanged =
      outcome.doc !== undefined && (place !== file || place === standard || this.changes(loaded, outcome));
    let content: string | Uint8Array | undefined;
    if (isChanged && outcome.doc && !values.check && !values['dry-run']) {
      const name = place === standard ? `output${endingNamed(values.to ?? values.from ?? 'json')}` : place;
      const made = await this.call.io.contentOf(
        name,
        { doc: outcome.doc, kinds: outcome.kinds ?? loaded.kinds },
        { routes: values.routes === true, scale: this.scale },
      );
      if (made.note !== undefined) notes.push(`${place}: ${made.note}`);
      if (made.lost.length > 0) notes.push(`${place}: not in it: ${made.lost.join(', ')}. ${keepersWords}`);
      if (place === standard) content = made.content;
      else if (this.zip !== undefined) this.pack(this.zip, place, made.content);
      else {
        if (isFolder(this.output ?? '')) mkdirSync(dirname(place), { recursive: true });
        await this.call.io.write(place, made.content);
      }
    }
    const outputs: string[] = [];
    for (const { name, text: own } of outcome.outputs ?? []) {
      const beside = join(dirname(place === standard ? '.' : place), `${stemOf(place).split(/[\\/]/).pop()}-${name}`);
      outputs.push(beside);
      if (values.check || values['dry-run']) continue;
      await this.call.io.write(beside, own);
      if (!values.quiet) notes.push(`${file}: wrote ${beside}`);
    }
    const found = [...loaded.findings, ...(outcome.findings ?? [])];
    const status = worst([
      outcome.status ?? 'fine',
      found.some((item) => item.severity !== 'info') ? 'findings' : 'fine',
      values.check && isChanged ? 'findings' : 'fine',
    ]);
    for (const item of limitFindings(found)) notes.push(`${file}: ${item.severity}: ${item.message}`);
    const said = values.json
      ? `${JSON.stringify(this.record(file, place, status, isChanged, found, { ...outcome.json, ...(outputs.length > 0 && { outputs }) }))}\n`
      : this.text(file, outcome.text ?? '', isChanged);
    return {
      status,
      out: content ?? said,
      err: (notes.length > 0 && !values.json ? `${notes.join('\n')}\n` : '') + (content === undefined ? '' : said),
    };
  }

  /** Puts a file into the archive that is written at the end. */
  private pack(zip: string, place: string, content: string | Uint8Array): void {
    const path = relative(zip, place).split(sep).join('/');
    if (this.packed.some((one) => one.path === path))
      throw new Unusable(`two files would be called ${path} in ${zip}.`);
    this.packed.push({ path, bytes: typeof content === 'string' ? Buffer.from(content) : content });
  }

  /** The archive, whole; it is not written where a file could not be read and the others were not to go on. */
  private async writeArchive(told: readonly Status[]): Promise<void> {
    if (this.zip === undefined || this.packed.length === 0 || told.some((status) => this.stopsAt(status))) return;
    await this.call.io.write(this.zip, zipOf(this.packed));
  }

  private changes(loaded: Loaded, { doc, kinds }: Outcome): boolean {
    if (doc === undefined) return false;
    return kinds !== undefined || doc.head !== loaded.doc.head || diff(loaded.doc, doc).steps.length > 0;
  }

  private record(
    file: string,
    place: string,
    status: Status,
    isChanged: boolean,
    found: readonly Finding[],
    json: Outcome['json'],
  ): object {
    const { values } = this;
    const isWritten = isChanged && !values.check && !values['dry-run'];
    return {
      file,
      status,
      ...json,
      ...(this.one.writes && { changed: isChanged, ...(isWritten && { written: place }) }),
      ...(found.length > 0 && { findings: [...((json?.findings as readonly Finding[] | undefined) ?? []), ...found] }),
    };
  }

  private text(file: string, text: string, isChanged: boolean): string {
    const { values } = this;
    if (values.quiet && this.one.writes) return '';
    const checked = values.check && isChanged ? [`${file}: would change`] : [];
    if (text === '') return checked.map((line) => `${line}\n`).join('');
    if (this.one.says === 'lines')
      return [...text.split('\n').map((line) => `${file}: ${line}`), ...checked].map((line) => `${line}\n`).join('');
    return this.files.length > 1 ? `${file}:\n${text}\n\n` : `${text}\n`;
  }
}

/** What an error means for whoever called. */
export function problemOf(error: unknown): { status: Status; message: string } {
  if (error instanceof Unusable) return { status: error.status, message: error.message };
  if (error instanceof QueryError || error instanceof Refused || error instanceof UnreadableFile)
    return { status: 'unusable', message: error.message };
  const { message, stack } = error instanceof Error ? error : new Error(String(error));
  const detail = process.env.BASITAX_DEBUG ? (stack ?? message) : `${message} Set BASITAX_DEBUG=1 to see where.`;
  return { status: 'failed', message: `this is a bug in basitax: ${detail}` };
}
