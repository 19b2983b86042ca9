import { createHash } from 'node:crypto';
import { mostBody } from '@basitax/api/contract';
import { type FileInfo, filesApi } from '@basitax/api/files';
import type { Person } from '@basitax/api/people';
import type { Edit } from '@basitax/core/edit/step';
import { formats } from '@basitax/core/formats/formats';
import type { Sketch } from '@basitax/core/inspect/sketch';
import { must } from '@basitax/core/must';
import type { Context } from 'koa';
import { rawBytes } from '../http/body.ts';
import { bind, type Route, say, seenRevision } from '../http/route.ts';
import { reachableProject } from '../projects/access.ts';
import type { Workplace } from '../work/desk.ts';
import type { FileSearch } from './search.ts';
import { type Given, importFrom } from './sources.ts';
import type { FileStore } from './store.ts';
import { thumbnailSvg } from './thumbnail.ts';

/** Answers a write: 201, the file as it is now, and the number that the next write has to name. */
function stored(ctx: Context, file: FileInfo): FileInfo {
  ctx.status = 201;
  ctx.set('ETag', `"${file.head.number}"`);
  return file;
}

export function fileRoutes(store: FileStore, pool: Workplace, search: FileSearch): Route[] {
  const imported = async (
    given: Given & { readonly project: string; readonly folder: string },
    person: Person,
    ctx: Context,
  ) => {
    const { project, folder, path, name } = given;
    const made = await importFrom(store, pool, given, person.name, { project, folder });
    say(ctx, { target: `“${made.file.title}”`, detail: path === '' ? name : `${path}, ${made.outcome}` });
    ctx.set('Location', `/files/${made.file.id}`);
    return made;
  };
  return bind(filesApi, {
    list: async ({ query, person }) => ({ files: [...(await search.files(person, query.query))] }),
    holding: async ({ body, person }) => ({
      holding: [...(await search.holding(person, body.nodes))].map(([nodes, files]) => ({ nodes, files: [...files] })),
    }),
    async import({ query, person, ctx }) {
      // before what may be large is read
      await reachableProject(person, query.project);
      const bytes = await rawBytes(ctx, mostBody(filesApi.import));
      return imported({ ...query, bytes }, person, ctx);
    },
    async importTable({ body: { text, plan, beside, ...place }, person, ctx }) {
      await reachableProject(person, place.project);
      return imported({ ...place, bytes: Buffer.from(text), how: { plan, beside } }, person, ctx);
    },
    get: ({ params }) => store.info(params.id),
    async thumbnail({ params, query, ctx }) {
      ctx.type = 'image/svg+xml';
      // kept by the browser, and shown only after the server was asked whether the person still sees the file
      ctx.set('Cache-Control', 'private, no-cache');
      const sketch = await store.sketch(params.id);
      ctx.set('ETag', `"${createHash('sha256').update(`${query.theme} ${sketch}`).digest('hex').slice(0, 24)}"`);
      if (ctx.fresh) {
        ctx.status = 304;
        return '';
      }
      return thumbnailSvg(JSON.parse(sketch) as Sketch, query.theme);
    },
    revisions: async ({ params }) => ({ revisions: await store.revisions(params.id) }),
    async revision({ params, ctx }) {
      const { zipped, number } = await store.zipped(params.id, params.number);
      ctx.set('ETag', `"${number}"`);
      ctx.type = 'application/json';
      ctx.vary('Accept-Encoding');
      if (ctx.acceptsEncodings('gzip', 'identity') !== 'gzip') return (await store.text(params.id, number)).text;
      ctx.set('Content-Encoding', 'gzip');
      return zipped;
    },
    async save({ params, body, person, ctx }) {
      const { file } = await store.save(
        params.id,
        seenRevision(ctx),
        { edit: body.edit as Edit },
        person.name,
        body.message,
      );
      say(ctx, { detail: `Revision ${file.head.number}: ${body.message}` });
      return stored(ctx, file);
    },
    async restore({ params, body, person, ctx }) {
      const seen = seenRevision(ctx);
      const old = await store.text(params.id, params.number);
      const { file } = await store.save(
        params.id,
        seen,
        { become: old.text },
        person.name,
        body.message || `Restored revision ${old.number}`,
      );
      say(ctx, { detail: `Revision ${old.number} as ${file.head.number}` });
      return stored(ctx, file);
    },
    async export({ params, query, ctx }) {
      const { text, catalogue, title } = await store.text(params.id, params.number);
      const format = must(formats.find((candidate) => candidate.id === query.format));
      const { text: body, lost } = await pool.run(
        'write',
        { format: format.id, routes: query.routes === 'yes' },
        { doc: text, catalogue },
      );
      // what the format has no place for, for whoever reads the answer by program: words with commas between,
      // percent-encoded
      if (lost.length > 0) ctx.set('X-Left-Out', lost.slice(0, 40).map(encodeURIComponent).join(', '));
      const name = `${title}${format.extensions[0]}`;
      ctx.type = format.mime;
      ctx.set(
        'Content-Disposition',
        `attachment; filename="${name.replace(/[^\w. -]/g, '_')}"; filename*=UTF-8''${encodeURIComponent(name)}`,
      );
      return body;
    },
  });
}
