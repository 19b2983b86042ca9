import { readStored } from '@basitax/core/document/file';
import { describeOperations, operationById } from '@basitax/core/operations';
import { scriptEnd } from '@basitax/core/script/job';
import type { Pool } from '@basitax/threads/pool';
import { z } from 'zod';
import { fileIdSchema, mayAct, operatedSchema, runOperationSchema, runScriptSchema, scriptedSchema } from '../api.ts';
import type { FileStore } from '../files/store.ts';
import { HttpProblem } from '../http/problem.ts';
import { type Route, route, say, seenRevision } from '../http/route.ts';
import type { Library } from '../library/library.ts';

/** The registry over HTTP: what there is, and running one on a file, as a dry run unless said otherwise. */
export function operationRoutes(store: FileStore, pool: Pool, library: Library): Route[] {
  return [
    route({
      method: 'get',
      path: '/api/operations',
      about: 'Every operation with its options',
      role: 'viewer',
      handle: async () => ({ operations: describeOperations() }),
    }),
    route({
      method: 'post',
      path: '/api/files/:id/operations/:operation',
      about: 'Does an operation on a file, as a dry run unless said otherwise',
      answer: operatedSchema,
      role: 'viewer',
      params: z.object({ id: fileIdSchema, operation: z.string().max(100) }),
      file: 'id',
      body: runOperationSchema,
      async handle({ params, body, person, ctx }) {
        const one = operationById(params.operation);
        const { selection, options, dryRun, seed } = body;
        if (!dryRun && !mayAct(person.role, 'editor'))
          throw new HttpProblem(403, 'Not allowed', `Changing a file takes the role editor; you are ${person.role}.`);
        const seen = dryRun ? undefined : seenRevision(ctx);
        if (seen !== undefined) await store.checkSeen(params.id, seen);
        const { text, number, catalogue } = await store.text(params.id, seen ?? 'head');
        const planned = await pool.run(
          'plan',
          { operation: one.id, selection, options, seed, review: true },
          { doc: text, catalogue },
        );
        if (seen === undefined) {
          say(ctx, { nothing: true });
          return { revision: number, ...planned };
        }
        say(ctx, { detail: one.title });
        const { file } = await store.save(
          params.id,
          seen,
          { edit: planned.edit },
          person.name,
          body.message || one.title,
        );
        ctx.set('ETag', `"${file.head.number}"`);
        return { revision: file.head.number, ...planned };
      },
    }),
    route({
      method: 'post',
      path: '/api/files/:id/scripts',
      role: 'viewer',
      params: z.object({ id: fileIdSchema }),
      file: 'id',
      about: 'Runs a script on a file, as a dry run unless said otherwise',
      body: runScriptSchema,
      answer: scriptedSchema,
      async handle({ params, body, person, ctx }) {
        if (!body.dryRun && !mayAct(person.role, 'editor'))
          throw new HttpProblem(403, 'Not allowed', `Changing a file takes the role editor; you are ${person.role}.`);
        const seen = body.dryRun ? undefined : seenRevision(ctx);
        if (seen !== undefined) await store.checkSeen(params.id, seen);
        const found = body.script && (await library.version(body.script.id, body.script.version ?? 'head', person));
        const source = found?.content ?? body.source;
        if (source === undefined)
          throw new HttpProblem(400, 'The request does not fit', 'Name a script of the library, or send its source.');
        const { text, number, catalogue } = await store.text(params.id, seen ?? 'head');
        const { graph = readStored(text).head.root, reach, values, seed } = body;
        const planned = await pool.run(
          'script',
          { graph, reach, source, values, seed },
          { doc: text, catalogue, limit: scriptEnd },
        );
        const answer = { ...planned, failure: planned.failure ?? null };
        if (seen === undefined || planned.failure || planned.edit.steps.length === 0) {
          say(ctx, { nothing: true });
          return { revision: number, ...answer };
        }
        say(ctx, { detail: found?.title ?? 'A script of one’s own' });
        const { file } = await store.save(
          params.id,
          seen,
          { edit: planned.edit },
          person.name,
          body.message || found?.title || 'Script',
        );
        ctx.set('ETag', `"${file.head.number}"`);
        return { revision: file.head.number, ...answer };
      },
    }),
  ];
}
