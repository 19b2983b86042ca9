import { describeOperations, operationById } from '@basitax/core/operations';
import type { Pool } from '@basitax/threads/pool';
import { z } from 'zod';
import { fileIdSchema, mayAct, runOperationSchema } from '../api.ts';
import type { FileStore } from '../files/store.ts';
import { HttpProblem } from '../http/problem.ts';
import { type Route, route, seenRevision } from '../http/route.ts';

/** The registry over HTTP: what there is, and running one on a file, as a dry run unless said otherwise. */
export function operationRoutes(store: FileStore, pool: Pool): Route[] {
  return [
    route({ method: 'get', path: '/api/operations', role: 'viewer', handle: async () => ({ operations: describeOperations() }) }),
    route({
      method: 'post',
      path: '/api/files/:id/operations/:operation',
      role: 'viewer',
      params: z.object({ id: fileIdSchema, operation: z.string().max(100) }),
      body: runOperationSchema,
      async handle({ params, body, person, ctx }) {
        const one = operationById(params.operation);
        const { selection, options, dryRun, seed } = body;
        if (!dryRun && !mayAct(person.role, 'editor')) throw new HttpProblem(403, 'Not allowed', `Changing a file takes the role editor; you are ${person.role}.`);
        const seen = dryRun ? undefined : seenRevision(ctx);
        if (seen !== undefined) await store.checkSeen(params.id, seen);
        const { text, number, catalogue } = await store.text(params.id, seen ?? 'head');
        const planned = await pool.run('plan', { operation: one.id, selection, options, seed, review: true }, { doc: text, catalogue });
        if (seen === undefined) return { revision: number, ...planned };
        const { file } = await store.save(params.id, seen, { edit: planned.edit }, person.name, body.message || one.title);
        ctx.set('ETag', `"${file.head.number}"`);
        return { revision: file.head.number, ...planned };
      },
    }),
  ];
}
