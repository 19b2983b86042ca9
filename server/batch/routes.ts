import { batchesApi } from '@basitax/api/batches';
import type { Person } from '@basitax/api/people';
import type { Context } from 'koa';
import { thumbnailSvg } from '../files/thumbnail.ts';
import { openEvents } from '../http/events.ts';
import { bind, type Route } from '../http/route.ts';
import { closedFiles } from '../projects/access.ts';
import type { Batches } from './batches.ts';
import { comparedWithBefore } from './before.ts';
import type { RunChanges } from './change-groups.ts';

/** How often the database is asked how a run stands while somebody looks on, in milliseconds. */
const pace = 500;
const overlap = 5000;

/** Batch runs: editors start and apply their own, leads those of all. */
export function batchRoutes(batches: Batches, changes: RunChanges): Route[] {
  return bind(batchesApi, {
    list: async ({ person }) => ({ runs: await batches.list(person) }),
    aim: async ({ body, person }) => ({ files: await batches.aimed(body.files, person) }),
    async start({ body, person }) {
      return batches.start(body, person);
    },
    get: ({ params, person }) => batches.run(params.id, person),
    async items({ params, person }) {
      await batches.run(params.id, person);
      const hidden = new Set(await closedFiles(person));
      return { items: (await batches.items(params.id)).filter((row) => !hidden.has(row.file)) };
    },
    item: ({ params }) => batches.detail(params.id, params.file),
    report: async ({ params, person }) => ({ reports: await batches.reports(params.id, person) }),
    before: ({ params, person }) => comparedWithBefore(batches, params.id, person),
    async picture({ params, query, ctx }) {
      ctx.type = 'image/svg+xml';
      return thumbnailSvg(await batches.sketch(params.id, params.file, query.which), query.theme);
    },
    changes: async ({ params, query, person }) => ({ changes: await changes.list(params.id, person, query.file) }),
    changed: async ({ params, person }) => ({ files: await changes.files(params.id, params.key, person) }),
    changedIn: ({ params, query }) => changes.picture(params.id, params.key, params.file, query.theme),
    take: ({ params, body, person }) => changes.take(params.id, body.accepted, body.keys, person, body.files),
    accept: ({ params, body, person }) => batches.accept(params.id, body.accepted, person, body.files),
    apply: ({ params, body, person }) => batches.apply(params.id, body.message, person),
    again: ({ params, body, person }) => batches.again(params.id, person, body.files),
    cancel: ({ params, person }) => batches.cancel(params.id, person),
    rollBack: ({ params, person }) => batches.rollBack(params.id, person),
    async events({ params, person, ctx }) {
      await batches.run(params.id, person);
      sendEvents(ctx, batches, params.id, person);
      return undefined;
    },
  });
}

/**
 * How the run stands, with what changed since, until the client goes. Files that the person does not see are left out,
 * asked anew each time that access is.
 */
function sendEvents(ctx: Context, batches: Batches, id: string, asker: Person): void {
  let person = asker;
  let hidden: ReadonlySet<string> | undefined;
  const line = openEvents(ctx, async (now) => {
    person = now;
    hidden = undefined;
  });
  const told = new Map<string, string>();
  let last = '';
  let since: Date | undefined;
  const tell = async (): Promise<void> => {
    while (line.isOpen) {
      hidden ??= new Set(await closedFiles(person));
      const left = hidden;
      const run = await batches.run(id, person);
      const changes = await batches.changes(id, since);
      // clocks of processes differ: some time is asked for again, and what was told already left out
      if (changes.latest) since = new Date(changes.latest.getTime() - overlap);
      const items = changes.items.filter((row) => !left.has(row.file) && told.get(row.file) !== JSON.stringify(row));
      for (const row of items) told.set(row.file, JSON.stringify(row));
      if (items.length > 0 || JSON.stringify(run) !== last) {
        last = JSON.stringify(run);
        line.send({ run, items });
      }
      await new Promise((done) => setTimeout(done, pace));
    }
  };
  tell().catch(line.fail);
}
