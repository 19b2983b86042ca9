import type { FileQuery, Recipe } from '@basitax/core/batch/recipe';
import { type Scheme, schemeSchema } from '@basitax/core/color/scheme';
import { type Catalogue, catalogueSchema } from '@basitax/core/document/catalogue';
import type { Edit } from '@basitax/core/edit/step';
import { type FileLinks, fileLinksSchema } from '@basitax/core/inspect/file-links';
import { type Facts, factsSchema } from '@basitax/core/rules/facts';
import {
  type BatchRun,
  batchRunSchema,
  catalogueReportSchema,
  type FileInfo,
  fileSchema,
  type ItemDetail,
  importedSchema,
  itemDetailSchema,
  type LibraryChange,
  type LibraryItem,
  type LibraryType,
  type LibraryVersion,
  libraryItemSchema,
  libraryVersionSchema,
  operatedSchema,
  type Person,
  type Publish,
  personSchema,
  type Revision,
  renderedSchema,
  revisionSchema,
  type SharedKind,
  type StoredTimes,
  sharedKindSchema,
  storedTimesSchema,
  type Token,
  tokenMadeSchema,
  type tokenMakeSchema,
  tokenSchema,
  type UseAnswer,
  type UseSearch,
  useAnswerSchema,
  usesSchema,
} from '@basitax/server/api';
import { z } from 'zod';
import { queryOf, read, send } from './http.ts';

const id = encodeURIComponent;

export const api = {
  whoAmI: async (): Promise<Person | null> =>
    (await read(z.object({ person: personSchema.nullable() }), send('GET', '/api/session'))).person,
  signIn: (login: string, password: string): Promise<Person> =>
    read(personSchema, send('POST', '/api/session', { json: { login, password } })),
  signOut: async (): Promise<void> => void (await send('DELETE', '/api/session')),
  files: async (): Promise<FileInfo[]> =>
    (await read(z.object({ files: z.array(fileSchema) }), send('GET', '/api/files'))).files,
  file: (file: string): Promise<FileInfo> => read(fileSchema, send('GET', `/api/files/${id(file)}`)),
  /** Makes a file of one that a format reads, in a folder of a project. */
  upload: (
    name: string,
    body: File | string,
    place: { project?: string; folder?: string } = {},
    signal?: AbortSignal,
  ): Promise<z.output<typeof importedSchema>> =>
    read(
      importedSchema,
      send('POST', `/api/files?${queryOf({ name, ...place })}`, {
        body,
        headers: { 'Content-Type': 'application/octet-stream' },
        ...(signal && { signal }),
      }),
    ),
  revisions: async (file: string): Promise<Revision[]> =>
    (await read(z.object({ revisions: z.array(revisionSchema) }), send('GET', `/api/files/${id(file)}/revisions`)))
      .revisions,
  /** A revision's file text, and its number. */
  async revision(file: string, number: number | 'head'): Promise<{ text: string; number: number }> {
    const response = await send('GET', `/api/files/${id(file)}/revisions/${number}`);
    return {
      text: await response.text(),
      number: Number(/\d+/.exec(response.headers.get('ETag') ?? '')?.[0] ?? number),
    };
  },
  catalogue: async (catalogue: string, version: number): Promise<Catalogue> =>
    read(catalogueSchema, send('GET', `/api/catalogues/${id(catalogue)}/${version}`)),
  save: (file: string, base: number, edit: Edit, message: string): Promise<FileInfo> =>
    read(
      fileSchema,
      send('POST', `/api/files/${id(file)}/revisions`, {
        json: { edit, message },
        headers: { 'If-Match': `"${base}"` },
      }),
    ),
  restore: (file: string, base: number, number: number): Promise<FileInfo> =>
    read(
      fileSchema,
      send('POST', `/api/files/${id(file)}/revisions/${number}/restore`, {
        json: {},
        headers: { 'If-Match': `"${base}"` },
      }),
    ),
  /** Where an asset of a file name lies. */
  assets: async (name: string): Promise<readonly string[]> =>
    (await read(z.object({ paths: z.array(z.string()) }), send('GET', `/api/assets?name=${id(name)}`))).paths,
  /** Whether there is an asset at a path. */
  assetExists: async (path: string): Promise<boolean> =>
    (await read(z.object({ exists: z.boolean() }), send('GET', `/api/assets/exists?path=${id(path)}`))).exists,
  /** Whether there is an asset at each path, and where files of that name lie. */
  async checkAssets(paths: readonly string[]): Promise<NonNullable<Facts['assets']>> {
    const found: NonNullable<Facts['assets']> = {};
    for (let i = 0; i < paths.length; i += 1000) {
      const some = read(
        z.object({ assets: factsSchema.shape.assets.unwrap() }),
        send('POST', '/api/assets/check', { json: { paths: paths.slice(i, i + 1000) } }),
      );
      Object.assign(found, (await some).assets);
    }
    return found;
  },
  /** Since when bypassed nodes are so. */
  bypassed: async (file: string) =>
    (
      await read(
        z.object({ since: factsSchema.shape.bypassedSince.unwrap() }),
        send('GET', `/api/files/${id(file)}/bypassed`),
      )
    ).since,
  /** Where something is used in all files. */
  uses: (search: UseSearch): Promise<UseAnswer> => read(useAnswerSchema, send('GET', `/api/uses?${queryOf(search)}`)),
  /** What there is to be looked up whose name begins so; `of`: values of that parameter. */
  namesOfUses: async (what: UseSearch['what'], starts: string, of?: string) =>
    (
      await read(
        z.object({ names: z.array(z.string()) }),
        send('GET', `/api/uses/names?${queryOf({ what, starts, of })}`),
      )
    ).names,
  fileLinks: (): Promise<FileLinks> => read(fileLinksSchema, send('GET', '/api/map')),
  /** What was measured of a file last; null where nothing was. */
  times: async (file: string): Promise<StoredTimes | null> =>
    (await read(z.object({ times: storedTimesSchema.nullable() }), send('GET', `/api/files/${id(file)}/times`))).times,
  saveTimes: async (file: string, byPath: Readonly<Record<string, number>>, source: string): Promise<void> =>
    void (await send('PUT', `/api/files/${id(file)}/times`, { json: { byPath, source } })),
  /** Pictures and times of nodes. */
  render: async (
    jobs: readonly { path: string; kind: string; values: object }[],
  ): Promise<z.output<typeof renderedSchema>['rendered']> =>
    (await read(renderedSchema, send('POST', '/api/render', { json: { jobs } }))).rendered,
  scheme: (): Promise<Scheme> => read(schemeSchema, send('GET', '/api/scheme')),
  saveScheme: async (scheme: Scheme): Promise<void> => void (await send('PUT', '/api/scheme', { json: scheme })),
  /** Which catalogue the team works with, and the versions that there are. */
  catalogues: () =>
    read(
      z.object({
        team: z.object({ id: z.string(), version: z.int() }),
        versions: z.array(z.object({ id: z.string(), version: z.int(), createdAt: z.string() })),
      }),
      send('GET', '/api/catalogues'),
    ),
  plainCatalogue: (catalogue: string, version: number): Promise<Catalogue> =>
    read(catalogueSchema, send('GET', `/api/catalogues/${id(catalogue)}/${version}?shared=no`)),
  catalogueReport: (catalogue: Catalogue): Promise<z.output<typeof catalogueReportSchema>> =>
    read(catalogueReportSchema, send('POST', '/api/catalogues/report', { json: { catalogue } })),
  changeCatalogue: (catalogue: Catalogue, seen: number) =>
    read(
      z.object({ id: z.string(), version: z.int() }),
      send('POST', '/api/catalogues', { json: { catalogue, seen } }),
    ),
  /** The files that use any of some kinds. */
  kindUses: async (kinds: readonly string[]): Promise<z.output<typeof usesSchema>> =>
    (await read(z.object({ files: usesSchema }), send('GET', `/api/kind-uses?kinds=${id(kinds.join(','))}`))).files,
  sharedKinds: async (): Promise<SharedKind[]> =>
    (await read(z.object({ kinds: z.array(sharedKindSchema) }), send('GET', '/api/shared-kinds'))).kinds,
  sharedBody: async (name: string, version: number): Promise<string> =>
    (await read(z.object({ body: z.string() }), send('GET', `/api/shared-kinds/${id(name)}/${version}`))).body,
  publish: (name: string, wanted: Publish): Promise<SharedKind> =>
    read(sharedKindSchema, send('POST', `/api/shared-kinds/${id(name)}`, { json: wanted })),
  /** Runs an operation on a stored file: as a dry run, or on top of a revision. */
  operate: (
    file: string,
    operation: string,
    body: {
      selection: { graph: string; items: readonly string[] };
      options: object;
      dryRun: boolean;
      message?: string;
    },
    base?: number,
  ): Promise<z.output<typeof operatedSchema>> =>
    read(
      operatedSchema,
      send('POST', `/api/files/${id(file)}/operations/${operation}`, {
        json: body,
        ...(base !== undefined && { headers: { 'If-Match': `"${base}"` } }),
      }),
    ),
  /** Scripts or recipes that this person may run. */
  library: async (type: LibraryType): Promise<LibraryItem[]> =>
    (await read(z.object({ items: z.array(libraryItemSchema) }), send('GET', `/api/library?type=${type}`))).items,
  libraryVersion: (item: string, version: number | 'head'): Promise<LibraryVersion> =>
    read(libraryVersionSchema, send('GET', `/api/library/${id(item)}/versions/${version}`)),
  libraryVersions: async (item: string): Promise<LibraryItem[]> =>
    (await read(z.object({ versions: z.array(libraryItemSchema) }), send('GET', `/api/library/${id(item)}/versions`)))
      .versions,
  removeLibraryItem: async (item: string): Promise<void> => void (await send('DELETE', `/api/library/${id(item)}`)),
  makeLibraryItem: (wanted: LibraryChange & { type: LibraryType }): Promise<LibraryVersion> =>
    read(libraryVersionSchema, send('POST', '/api/library', { json: wanted })),
  changeLibraryItem: (item: string, seen: number, wanted: LibraryChange): Promise<LibraryVersion> =>
    read(
      libraryVersionSchema,
      send('POST', `/api/library/${id(item)}/versions`, { json: wanted, headers: { 'If-Match': `"${seen}"` } }),
    ),
  batches: async (): Promise<BatchRun[]> =>
    (await read(z.object({ runs: z.array(batchRunSchema) }), send('GET', '/api/batches'))).runs,
  /** The files that a run would be about. */
  batchFiles: async (files: FileQuery) =>
    (
      await read(
        z.object({ files: z.array(z.object({ id: z.string(), title: z.string() })) }),
        send('POST', '/api/batches/files', { json: { files } }),
      )
    ).files,
  startBatch: (wanted: { title: string; recipe: Recipe; files: FileQuery }): Promise<BatchRun> =>
    read(batchRunSchema, send('POST', '/api/batches', { json: wanted })),
  batchItem: (run: string, file: string): Promise<ItemDetail> =>
    read(itemDetailSchema, send('GET', `/api/batches/${id(run)}/items/${id(file)}`)),
  /** Accepts, applies, cancels, rolls back. */
  batchAct: (run: string, act: 'accept' | 'apply' | 'cancel' | 'roll-back', json: object = {}): Promise<BatchRun> =>
    read(batchRunSchema, send('POST', `/api/batches/${id(run)}/${act}`, { json })),
  batchPictureAddress: (run: string, file: string, which: 'before' | 'after', theme: string): string =>
    `/api/batches/${id(run)}/items/${id(file)}/picture.svg?which=${which}&theme=${theme}`,
  tokens: async (): Promise<Token[]> =>
    (await read(z.object({ tokens: z.array(tokenSchema) }), send('GET', '/api/tokens'))).tokens,
  makeToken: (wanted: z.input<typeof tokenMakeSchema>) =>
    read(tokenMadeSchema, send('POST', '/api/tokens', { json: wanted })),
  removeToken: async (token: string): Promise<void> => void (await send('DELETE', `/api/tokens/${id(token)}`)),
  /** What this person has set up; undefined where nothing is. */
  setting: async <T extends z.ZodType>(name: string, schema: T): Promise<z.output<T> | undefined> =>
    schema
      .optional()
      .parse(
        (await read(z.object({ value: z.unknown() }), send('GET', `/api/settings/${id(name)}`))).value ?? undefined,
      ),
  saveSetting: async (name: string, value: unknown): Promise<void> =>
    void (await send('PUT', `/api/settings/${id(name)}`, { json: { value } })),
  /** A revision in a format, and what of it that has no place for. */
  async exported(
    file: string,
    number: number | 'head',
    format: string,
  ): Promise<{ text: string; lost: readonly string[] }> {
    const response = await send('GET', `/api/files/${id(file)}/revisions/${number}/export?format=${format}`);
    return {
      text: await response.text(),
      lost: (response.headers.get('X-Left-Out') ?? '').split(', ').filter(Boolean).map(decodeURIComponent),
    };
  },
  thumbnailAddress: (file: string, revision: number, theme: string): string =>
    `/api/files/${id(file)}/thumbnail.svg?theme=${theme}&revision=${revision}`,
};

/**
 * How long to wait, in milliseconds, before asking again for revisions of which some are still to be measured; false
 * where all are.
 */
export const untilMeasured = (revisions: readonly Revision[] | undefined): number | false =>
  revisions?.some((one) => one.measures.score === undefined) ? 3000 : false;
