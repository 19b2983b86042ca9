import { existsSync, mkdirSync, readFileSync } from 'node:fs';
import { basename, dirname, join, relative, resolve, sep } from 'node:path';
import { batchesApi } from '@basitax/api/batches';
import { cataloguesApi } from '@basitax/api/catalogues';
import { ApiClient, ApiProblem } from '@basitax/api/client';
import { type FileInfo, filesApi } from '@basitax/api/files';
import { recipeSchema } from '@basitax/core/batch/recipe';
import { parseDoc } from '@basitax/core/document/file';
import { diff } from '@basitax/core/edit/diff';
import { importPlace, pathInArchive } from '@basitax/core/formats/import-place';
import { z } from 'zod';
import { inArchive } from '../archives.ts';
import {
  type Call,
  type Command,
  Conflict,
  command,
  Failed,
  type Status,
  Unusable,
  type ValuesOf,
  worst,
} from '../command.ts';
import { filesNamed } from '../names.ts';

const serverOptions = {
  server: { type: 'string', value: 'URL', about: 'The server. By default that of BASITAX_SERVER.' },
  'token-file': {
    type: 'string',
    value: 'FILE',
    about: 'A file with a personal token. By default that of BASITAX_TOKEN_FILE.',
  },
  files: { type: 'string', value: 'QUERY', about: 'The files of the server that fit a query, in place of names.' },
} as const;
type Values = ValuesOf<typeof serverOptions>;

/** What was pulled from where, beside the files: so that a push knows which revision it was made on. */
const noteName = '.basitax-server.json';
const noteSchema = z.record(z.string(), z.object({ server: z.string(), id: z.string(), revision: z.int() }));
type Note = z.infer<typeof noteSchema>;

function noteIn(folder: string): Note {
  const file = join(folder, noteName);
  if (!existsSync(file)) return {};
  try {
    return noteSchema.parse(JSON.parse(readFileSync(file, 'utf8')));
  } catch {
    throw new Unusable(`${file}: this file is damaged; remove it and pull again.`);
  }
}

function clientOf({ values }: Call<Values>): { client: ApiClient; server: string } {
  const server = (values.server ?? process.env.BASITAX_SERVER)?.replace(/\/+$/, '');
  if (!server || !/^https?:\/\//.test(server))
    throw new Unusable('name the server with --server, such as --server https://basitax.house, or in BASITAX_SERVER.');
  const file = values['token-file'] ?? process.env.BASITAX_TOKEN_FILE;
  if (file === undefined)
    throw new Unusable('name a file with a personal token with --token-file, or in BASITAX_TOKEN_FILE.');
  if (!existsSync(file)) throw new Unusable(`${file}: there is no such file.`);
  const token = readFileSync(file, 'utf8').trim();
  return { client: new ApiClient(server, { Authorization: `Bearer ${token}` }), server };
}

/** What the server said, with the status that it means. */
async function asked<T>(ask: () => Promise<T>): Promise<T> {
  try {
    return await ask();
  } catch (error) {
    if (!(error instanceof ApiProblem)) throw error;
    if (error.status === 412) throw new Conflict(error.message);
    if (error.status === 0 || error.status >= 500 || error.status === 429) throw new Failed(error.message);
    throw new Unusable(error.message);
  }
}

/** The files that are meant: by id, or by title, each once. */
function meant(all: readonly FileInfo[], words: readonly string[]): FileInfo[] {
  const found = words.flatMap((word) => {
    const fits = all.filter((file) => file.id === word || file.title === word);
    if (fits.length === 0) throw new Unusable(`the server has no file “${word}”, by id or by title.`);
    if (fits.length > 1)
      throw new Unusable(
        `${fits.length} files are called “${word}”; name one by its id: ${fits.map((file) => file.id).join(', ')}.`,
      );
    return fits;
  });
  return [...new Set(found)];
}

/** The document of a revision. */
const textOf = async (client: ApiClient, params: { id: string; number: number }): Promise<string> =>
  (await client.ask(filesApi.revision, { params })).text();

const safeName = (title: string): string => title.replace(/[^\p{L}\p{N}._ -]+/gu, '_').trim() || 'untitled';

/** The files of the server that fit a query; all without one. */
const listed = async (client: ApiClient, query = ''): Promise<readonly FileInfo[]> =>
  (await asked(() => client.call(filesApi.list, { query: { query } }))).files;

async function list(call: Call<Values>): Promise<Status> {
  const { client } = clientOf(call);
  const files = await listed(client, call.values.files);
  for (const file of files)
    process.stdout.write(
      call.values.json
        ? `${JSON.stringify(file)}\n`
        : `${file.id.padEnd(24)} ${String(file.head.number).padStart(5)}  ${file.title}\n`,
    );
  return 'fine';
}

async function pull(call: Call<Values & { readonly output?: string | undefined }>): Promise<Status> {
  const { client, server } = clientOf(call);
  const [, ...words] = call.words;
  const { files: query } = call.values;
  if ((words.length === 0) === (query === undefined))
    throw new Unusable('server pull takes files, by id or title, or --files QUERY.');
  const folder = call.values.output ?? '.';
  mkdirSync(folder, { recursive: true });
  const files = await listed(client, query);
  const note: Note = { ...noteIn(folder) };
  for (const file of query === undefined ? meant(files, words) : files) {
    const { number } = file.head;
    const text = await asked(() => textOf(client, { id: file.id, number }));
    const name = `${safeName(file.title)}.graph.json`;
    const known = note[name];
    if (known && known.id !== file.id)
      throw new Unusable(`${join(folder, name)} is another file of the server; pull into another folder.`);
    await call.io.write(join(folder, name), text);
    note[name] = { server, id: file.id, revision: number };
    const { catalogue } = parseDoc(text).doc.head;
    const beside = join(folder, `${catalogue.id}.catalogue.json`);
    if (catalogue.id !== 'none')
      await call.io.write(
        beside,
        JSON.stringify(
          await asked(() =>
            client.call(cataloguesApi.get, { params: { id: catalogue.id, version: catalogue.version } }),
          ),
        ),
      );
    await call.io.write(join(folder, noteName), `${JSON.stringify(note, null, 2)}\n`);
    if (call.values.json)
      process.stdout.write(
        `${JSON.stringify({ file: join(folder, name), status: 'fine', id: file.id, revision: number })}\n`,
      );
    else if (!call.values.quiet) process.stdout.write(`${join(folder, name)}: revision ${number}\n`);
  }
  return 'fine';
}

async function push(
  call: Call<Values & { readonly message?: string | undefined; readonly project?: string | undefined }>,
): Promise<Status> {
  const { client, server } = clientOf(call);
  const [, ...words] = call.words;
  const { message = '' } = call.values;
  if (words.length === 0) throw new Unusable('server push takes files.');
  if (message.trim() === '') throw new Unusable('server push needs --message: say in a word or two what changed.');
  for (const file of words) {
    const folder = dirname(file);
    const note = noteIn(folder);
    const known = note[basename(file)];
    const text = await call.io.text(file);
    let record: { id: string; revision: number; changed: boolean };
    if (known && known.server === server) {
      const { id, revision } = known;
      const base = await asked(() => textOf(client, { id, number: revision }));
      const edit = diff(parseDoc(base).doc, parseDoc(text).doc);
      const saved =
        edit.steps.length === 0
          ? undefined
          : await asked(() => client.call(filesApi.save, { params: { id }, seen: revision, body: { edit, message } }));
      record = { id, revision: saved?.head.number ?? revision, changed: saved !== undefined };
    } else {
      const query = {
        name: basename(file),
        ...(call.values.project !== undefined && { project: call.values.project }),
      };
      const { file: made } = await asked(() => client.call(filesApi.import, { query, content: text }));
      record = { id: made.id, revision: made.head.number, changed: true };
    }
    await call.io.write(
      join(folder, noteName),
      `${JSON.stringify({ ...note, [basename(file)]: { server, id: record.id, revision: record.revision } }, null, 2)}\n`,
    );
    if (call.values.json) process.stdout.write(`${JSON.stringify({ file, status: 'fine', ...record })}\n`);
    else if (!call.values.quiet)
      process.stdout.write(
        `${file}: ${record.changed ? `saved as revision ${record.revision}` : 'nothing has changed'}\n`,
      );
  }
  return 'fine';
}

const sleep = (ms: number) => new Promise((done) => setTimeout(done, ms));
/** What a run does by itself; it waits for somebody in all other phases. */
const busy: ReadonlySet<string> = new Set(['planning', 'applying', 'rolling-back']);

async function waited(call: Call<Values>, client: ApiClient, id: string): Promise<Status> {
  let run = await asked(() => client.call(batchesApi.get, { params: { id } }));
  while (busy.has(run.phase)) {
    await sleep(500);
    run = await asked(() => client.call(batchesApi.get, { params: { id } }));
  }
  const counts = Object.entries(run.counts).map(([state, count]) => `${count} ${state}`);
  process.stdout.write(
    call.values.json
      ? `${JSON.stringify({ run: id, phase: run.phase, counts: run.counts })}\n`
      : `${id}: ${run.phase}: ${counts.join(', ') || 'no files'}\n`,
  );
  const count = (state: keyof typeof run.counts): number => run.counts[state] ?? 0;
  return count('failed') > 0
    ? 'failed'
    : count('conflict') > 0
      ? 'conflict'
      : count('stopped') > 0
        ? 'findings'
        : 'fine';
}

async function batch(
  call: Call<Values & { readonly title?: string | undefined; readonly apply?: string | undefined }>,
): Promise<Status> {
  const { client } = clientOf(call);
  const [, recipeFile, ...ids] = call.words;
  if (recipeFile === undefined) throw new Unusable('server batch takes a recipe, and files by id or title.');
  const recipe = await call.io.json(recipeFile, recipeSchema, 'recipe');
  const query = call.values.files;
  if ((ids.length === 0) === (query === undefined))
    throw new Unusable('server batch needs files, by id or title, or --files QUERY; --files "" is all of them.');
  const aim = query === undefined ? { ids: meant(await listed(client), ids).map((file) => file.id) } : { query };
  const title = call.values.title ?? basename(recipeFile);
  const run = await asked(() => client.call(batchesApi.start, { body: { title, recipe, files: aim } }));
  const status = await waited(call, client, run.id);
  if (call.values.apply === undefined || status === 'failed') return status;
  const { apply } = call.values;
  await asked(() => client.call(batchesApi.accept, { params: { id: run.id }, body: { accepted: true } }));
  await asked(() => client.call(batchesApi.apply, { params: { id: run.id }, body: { message: apply } }));
  return worst([status, await waited(call, client, run.id)]);
}

/** A file by its path in the folder or archive that was named, whose name stands before it; empty where it was named. */
function pathOf(file: string, word: string): string {
  const packed = inArchive(file);
  if (packed) return pathInArchive(basename(packed.archive), packed.inner);
  return file === word
    ? ''
    : join(basename(resolve(word)), relative(word, file))
        .split(sep)
        .join('/');
}

const outcomes = {
  new: () => 'imported',
  updated: (revision: number) => `revision ${revision}`,
  same: () => 'unchanged',
} as const;

/**
 * Imports files, folders and archives into a project of the server. What comes from a folder or an archive is known by its
 * path: where it comes again, the file gets a revision. One that cannot be read keeps no other out.
 */
async function importInto(
  call: Call<Values & { readonly project?: string | undefined; readonly folder?: string | undefined }>,
): Promise<Status> {
  const { client } = clientOf(call);
  const [, ...words] = call.words;
  if (words.length === 0) throw new Unusable('server import takes files, folders or archives.');
  const { project, folder, json, quiet } = call.values;
  const told: Status[] = [];
  for (const [file, path] of words.flatMap((word) =>
    filesNamed([word]).map((one) => [one, pathOf(one, word)] as const),
  ))
    try {
      const query = { name: basename(file), ...importPlace(path, folder), ...(project && { project }) };
      const content = new Blob([new Uint8Array(await call.io.bytes(file))]);
      const { file: made, findings, outcome } = await asked(() => client.call(filesApi.import, { query, content }));
      const status = findings.some((one) => one.severity !== 'info') ? 'findings' : 'fine';
      const revision = made.head.number;
      told.push(status);
      if (json) process.stdout.write(`${JSON.stringify({ file, status, id: made.id, outcome, revision, findings })}\n`);
      else {
        for (const one of findings) process.stderr.write(`${file}: ${one.severity}: ${one.message}\n`);
        if (!quiet) process.stdout.write(`${file}: ${outcomes[outcome](revision)}\n`);
      }
    } catch (error) {
      if (!(error instanceof Unusable)) throw error;
      told.push(error.status);
      process.stderr.write(`basitax: ${file}: ${error.message}\n`);
    }
  return worst(told);
}

const deeds = {
  import: importInto,
  list,
  pull,
  push,
  batch,
  async wait(call: Call<Values>): Promise<Status> {
    const [, id] = call.words;
    if (id === undefined) throw new Unusable('server wait takes the id of a run.');
    return waited(call, clientOf(call).client, id);
  },
} as const;

export const serverCommands: readonly Command[] = [
  command({
    name: 'server',
    usage:
      'list [--files QUERY] | pull FILE… [-o FOLDER] | push FILE… -m MESSAGE | import FILE|FOLDER|ARCHIVE… | batch RECIPE.json FILE… [--apply MESSAGE] | wait RUN',
    about: 'Lists, pulls, pushes and imports files of a server; starts batch runs there and waits for them.',
    options: {
      ...serverOptions,
      output: { type: 'string', short: 'o', value: 'FOLDER', about: 'The folder to pull files into.' },
      message: { type: 'string', short: 'm', value: 'MESSAGE', about: 'What the new revision says.' },
      project: { type: 'string', value: 'PROJECT', about: 'The project for files that are new on the server.' },
      folder: { type: 'string', value: 'FOLDER', about: 'The folder of the project to import into.' },
      title: { type: 'string', value: 'TITLE', about: 'What the batch run is called.' },
      apply: { type: 'string', value: 'MESSAGE', about: 'Accept and apply what was planned, with this message.' },
    },
    async run(call) {
      const [wanted = ''] = call.words;
      if (!Object.hasOwn(deeds, wanted))
        throw new Unusable(`server takes ${Object.keys(deeds).join(', ')}. See basitax server --help.`);
      return deeds[wanted as keyof typeof deeds](call);
    },
  }),
];
