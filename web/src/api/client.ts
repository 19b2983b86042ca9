import { batchesApi } from '@basitax/api/batches';
import { cataloguesApi, type Publish } from '@basitax/api/catalogues';
import { ApiClient, addressOf } from '@basitax/api/client';
import { eventsApi } from '@basitax/api/events';
import { filesApi, type Revision } from '@basitax/api/files';
import { inspectApi, type UseSearch } from '@basitax/api/inspect';
import { type LibraryChange, type LibraryType, libraryApi } from '@basitax/api/library';
import { operationsApi } from '@basitax/api/operations';
import { sessionApi } from '@basitax/api/people';
import { reportsApi } from '@basitax/api/reports';
import { type ScheduleWanted, schedulesApi } from '@basitax/api/schedules';
import { assetsApi, renderApi } from '@basitax/api/services';
import { settingsApi } from '@basitax/api/settings';
import { tablesApi } from '@basitax/api/tables';
import { tokensApi } from '@basitax/api/tokens';
import { type WebhookWanted, webhooksApi } from '@basitax/api/webhooks';
import type { FileAim, Recipe } from '@basitax/core/batch/recipe';
import type { Scheme } from '@basitax/core/color/scheme';
import type { Catalogue } from '@basitax/core/document/catalogue';
import type { Edit } from '@basitax/core/edit/step';
import type { FormatId } from '@basitax/core/formats/endings';
import type { Theme } from '@basitax/core/inspect/sketch-colors';
import type { Facts } from '@basitax/core/rules/facts';
import type { z } from 'zod';

/** The server that this page came from. */
export const client = new ApiClient();
/** Asks a route of it, by its contract. */
export const call: ApiClient['call'] = (contract, asked) => client.call(contract, asked);

/** What screens ask of the server; how each is asked stands in its contract. */
export const api = {
  whoAmI: async () => (await call(sessionApi.who, {})).person,
  signIn: (login: string, password: string) => call(sessionApi.signIn, { body: { login, password } }),
  signOut: () => call(sessionApi.signOut, {}),

  files: async () => (await call(filesApi.list, {})).files,
  /** Which files hold nodes like each of some queries. */
  holding: async (nodes: readonly string[]) =>
    new Map(
      (await call(filesApi.holding, { body: { nodes: [...nodes] } })).holding.map((one) => [
        one.nodes,
        new Set(one.files),
      ]),
    ),
  file: (id: string) => call(filesApi.get, { params: { id } }),
  /** Makes a file of one that a format reads, in a folder of a project. */
  upload: (
    name: string,
    content: Blob | string,
    place: { project?: string; folder?: string; path?: string } = {},
    signal?: AbortSignal,
  ) => call(filesApi.import, { query: { name, ...place }, content, ...(signal && { signal }) }),
  /** Makes a file of a table of which somebody has said what its columns are. */
  uploadTable: (table: z.input<typeof filesApi.importTable.body>, signal: AbortSignal) =>
    call(filesApi.importTable, { body: table, signal }),
  revisions: async (id: string) => (await call(filesApi.revisions, { params: { id } })).revisions,
  /** A revision's file text, and its number. */
  async revision(id: string, number: number | 'head'): Promise<{ text: string; number: number }> {
    const response = await client.ask(filesApi.revision, { params: { id, number } });
    const tag = /\d+/.exec(response.headers.get('ETag') ?? '')?.[0];
    return { text: await response.text(), number: Number(tag ?? number) };
  },
  save: (id: string, seen: number, edit: Edit, message: string) =>
    call(filesApi.save, { params: { id }, seen, body: { edit, message } }),
  restore: (id: string, seen: number, number: number) =>
    call(filesApi.restore, { params: { id, number }, seen, body: {} }),
  /** A revision in a format, and what of it that has no place for. */
  async exported(
    id: string,
    number: number | 'head',
    format: FormatId,
    withRoutes = false,
  ): Promise<{ text: string; lost: readonly string[] }> {
    const response = await client.ask(filesApi.export, {
      params: { id, number },
      query: { format, routes: withRoutes ? 'yes' : 'no' },
    });
    const lost = (response.headers.get('X-Left-Out') ?? '').split(', ').filter(Boolean).map(decodeURIComponent);
    return { text: await response.text(), lost };
  },
  thumbnailAddress: (id: string, revision: number, theme: Theme): string =>
    addressOf(filesApi.thumbnail, { params: { id }, query: { theme, revision: String(revision) } }),

  /** Where an asset of a file name lies. */
  assets: async (name: string) => (await call(assetsApi.find, { query: { name } })).paths,
  /** Whether there is an asset at a path. */
  assetExists: async (path: string) => (await call(assetsApi.exists, { query: { path } })).exists,
  /** Whether there is an asset at each path, and where files of that name lie. */
  async checkAssets(paths: readonly string[]): Promise<NonNullable<Facts['assets']>> {
    const found: NonNullable<Facts['assets']> = {};
    for (let i = 0; i < paths.length; i += 1000)
      Object.assign(found, (await call(assetsApi.check, { body: { paths: paths.slice(i, i + 1000) } })).assets);
    return found;
  },
  /** Pictures and times of nodes. */
  render: async (jobs: readonly { path: string; kind: string; values: Record<string, unknown> }[]) =>
    (await call(renderApi.render, { body: { jobs } })).rendered,

  /** Since when bypassed nodes are so. */
  bypassed: async (id: string) => (await call(inspectApi.bypassed, { params: { id } })).since,
  /** Where something is used in all files. */
  uses: (search: UseSearch) => call(inspectApi.uses, { query: search }),
  /** What there is to be looked up whose name begins so; `of`: values of that parameter. */
  namesOfUses: async (what: UseSearch['what'], starts: string, of?: string) =>
    (await call(inspectApi.names, { query: { what, starts, of } })).names,
  fileLinks: () => call(inspectApi.map, {}),
  /** What was measured of a file last; null where nothing was. */
  times: async (id: string) => (await call(inspectApi.times, { params: { id } })).times,
  saveTimes: (id: string, byPath: Record<string, number>, source: string) =>
    call(inspectApi.saveTimes, { params: { id }, body: { byPath, source } }),

  scheme: () => call(cataloguesApi.scheme, {}),
  saveScheme: (body: Scheme) => call(cataloguesApi.changeScheme, { body }),
  /** Which catalogue the team works with, and the versions that there are. */
  catalogues: () => call(cataloguesApi.list, {}),
  catalogue: (id: string, version: number) => call(cataloguesApi.get, { params: { id, version } }),
  plainCatalogue: (id: string, version: number) =>
    call(cataloguesApi.get, { params: { id, version }, query: { shared: 'no' } }),
  catalogueAddress: (id: string, version: number): string => addressOf(cataloguesApi.get, { params: { id, version } }),
  plainCatalogueAddress: (id: string, version: number): string =>
    addressOf(cataloguesApi.get, { params: { id, version }, query: { shared: 'no' } }),
  catalogueReport: (catalogue: Catalogue) => call(cataloguesApi.report, { body: { catalogue } }),
  changeCatalogue: (catalogue: Catalogue, seen: number) => call(cataloguesApi.change, { body: { catalogue, seen } }),
  /** What some files show of the kinds of their nodes. */
  kindEvidence: (files: readonly string[], by: string | undefined, signal: AbortSignal) =>
    call(cataloguesApi.evidence, { body: { files: [...files], ...(by !== undefined && { by }) }, signal }),
  /** The files that use any of some kinds. */
  kindUses: async (kinds: readonly string[]) =>
    (await call(cataloguesApi.uses, { query: { kinds: kinds.join(',') } })).files,
  sharedKinds: async () => (await call(cataloguesApi.shared, {})).kinds,
  sharedBody: async (name: string, version: number) =>
    (await call(cataloguesApi.sharedBody, { params: { name, version } })).body,
  publish: (name: string, body: Publish) => call(cataloguesApi.publish, { params: { name }, body }),

  /** Runs an operation on a stored file: as a dry run, or on top of a revision. */
  operate: (
    id: string,
    operation: string,
    body: {
      selection: { graph: string; items: string[] };
      options: Record<string, unknown>;
      dryRun: boolean;
      message?: string;
    },
    seen?: number,
  ) => call(operationsApi.run, { params: { id, operation }, body, ...(seen !== undefined && { seen }) }),

  /** Scripts or recipes that this person may run. */
  library: async (type: LibraryType) => (await call(libraryApi.list, { query: { type } })).items,
  libraryVersion: (id: string, version: number | 'head') => call(libraryApi.version, { params: { id, version } }),
  libraryVersions: async (id: string) => (await call(libraryApi.versions, { params: { id } })).versions,
  removeLibraryItem: (id: string) => call(libraryApi.remove, { params: { id } }),
  makeLibraryItem: (body: LibraryChange & { type: LibraryType }) => call(libraryApi.make, { body }),
  changeLibraryItem: (id: string, seen: number, body: LibraryChange) =>
    call(libraryApi.change, { params: { id }, seen, body }),

  batches: async () => (await call(batchesApi.list, {})).runs,
  /** The files that a run would be about. */
  batchFiles: async (files: FileAim) => (await call(batchesApi.aim, { body: { files } })).files,
  startBatch: (body: { title: string; recipe: Recipe; files: FileAim; repeats?: string }) =>
    call(batchesApi.start, { body }),
  batchBefore: (id: string) => call(batchesApi.before, { params: { id } }),
  /** A table of nodes of many files, as bytes. */
  tableOut: async (query: z.input<typeof tablesApi.out.query>) =>
    new Uint8Array(await (await client.ask(tablesApi.out, { query })).arrayBuffer()),
  /** A batch run of what a table says. */
  tableIn: (title: string, content: Blob) => call(tablesApi.into, { query: { title }, content }),
  schedules: async () => (await call(schedulesApi.list, {})).schedules,
  makeSchedule: (body: ScheduleWanted) => call(schedulesApi.make, { body }),
  changeSchedule: (id: string, body: ScheduleWanted) => call(schedulesApi.change, { params: { id }, body }),
  removeSchedule: (id: string) => call(schedulesApi.remove, { params: { id } }),
  runSchedule: (id: string) => call(schedulesApi.run, { params: { id } }),
  keptReports: async () => (await call(reportsApi.list, {})).reports,
  keptReport: (id: string) => call(reportsApi.get, { params: { id } }),
  keepReport: (id: string, step: number) => call(reportsApi.keep, { params: { id, step } }),
  removeKeptReport: (id: string) => call(reportsApi.remove, { params: { id } }),
  notices: () => call(eventsApi.notices, {}),
  seeNotices: (link?: string) => call(eventsApi.seen, { body: link === undefined ? {} : { link } }),
  webhooks: () => call(webhooksApi.list, {}),
  makeWebhook: (body: WebhookWanted) => call(webhooksApi.make, { body }),
  changeWebhook: (id: string, body: WebhookWanted) => call(webhooksApi.change, { params: { id }, body }),
  removeWebhook: (id: string) => call(webhooksApi.remove, { params: { id } }),
  testWebhook: (id: string) => call(webhooksApi.test, { params: { id } }),
  deliveries: async (id: string) => (await call(webhooksApi.deliveries, { params: { id } })).deliveries,
  sendAgain: (id: string, delivery: string) => call(webhooksApi.again, { params: { id, delivery } }),
  batchItem: (id: string, file: string) => call(batchesApi.item, { params: { id, file } }),
  batchReports: async (id: string) => (await call(batchesApi.report, { params: { id } })).reports,
  againInBatch: (id: string, files?: readonly string[]) =>
    call(batchesApi.again, { params: { id }, body: files ? { files: [...files] } : {} }),
  acceptInBatch: (id: string, accepted: boolean, files?: readonly string[]) =>
    call(batchesApi.accept, { params: { id }, body: { accepted, ...(files && { files }) } }),
  batchChanges: async (id: string, file?: string) =>
    (await call(batchesApi.changes, { params: { id }, query: { ...(file !== undefined && { file }) } })).changes,
  batchChangeFiles: async (id: string, key: string) => (await call(batchesApi.changed, { params: { id, key } })).files,
  batchChangeIn: (id: string, key: string, file: string, theme: Theme) =>
    call(batchesApi.changedIn, { params: { id, key, file }, query: { theme } }),
  takeInBatch: (id: string, accepted: boolean, keys: readonly string[], files?: readonly string[]) =>
    call(batchesApi.take, { params: { id }, body: { accepted, keys: [...keys], ...(files && { files: [...files] }) } }),
  applyBatch: (id: string, message: string) => call(batchesApi.apply, { params: { id }, body: { message } }),
  cancelBatch: (id: string) => call(batchesApi.cancel, { params: { id } }),
  rollBackBatch: (id: string) => call(batchesApi.rollBack, { params: { id } }),
  batchPictureAddress: (id: string, file: string, which: 'before' | 'after', theme: Theme): string =>
    addressOf(batchesApi.picture, { params: { id, file }, query: { which, theme } }),
  batchEventsAddress: (id: string): string => addressOf(batchesApi.events, { params: { id } }),

  tokens: async (service?: string) =>
    (await call(tokensApi.list, { query: service === undefined ? {} : { service } })).tokens,
  makeToken: (body: z.input<(typeof tokensApi.make)['body']>) => call(tokensApi.make, { body }),
  removeToken: (id: string) => call(tokensApi.revoke, { params: { id } }),

  /** What this person has set up; undefined where nothing is. */
  setting: async <T extends z.ZodType>(name: string, schema: T): Promise<z.output<T> | undefined> =>
    schema.optional().parse((await call(settingsApi.get, { params: { name } })).value ?? undefined),
  saveSetting: (name: string, value: unknown) => call(settingsApi.change, { params: { name }, body: { value } }),
};

/**
 * How long to wait, in milliseconds, before asking again for revisions of which some are still to be measured; false
 * where all are.
 */
export const untilMeasured = (revisions: readonly Revision[] | undefined): number | false =>
  revisions?.some((one) => one.measures.score === undefined) ? 3000 : false;
