import { operationsApi } from '@basitax/api/operations';
import { mayAct } from '@basitax/api/roles';
import { readStored } from '@basitax/core/document/file';
import { toldChange } from '@basitax/core/inspect/compare/compare';
import { describeOperations, operationById } from '@basitax/core/operations';
import { withAssets } from '@basitax/core/script/assets';
import { scriptEnd } from '@basitax/core/script/job';
import { checkPaths } from '../assets/routes.ts';
import type { AssetStore } from '../assets/store.ts';
import type { FileStore } from '../files/store.ts';
import { HttpProblem } from '../http/problem.ts';
import { bind, type Route, say, seenRevision } from '../http/route.ts';
import type { Library } from '../library/library.ts';
import { checkScript } from '../library/script-check.ts';
import type { Workplace } from '../work/desk.ts';

/** The registry over HTTP: what there is, and running one on a file, as a dry run unless said otherwise. */
export function operationRoutes(
  store: FileStore,
  pool: Workplace,
  library: Library,
  assets: AssetStore | undefined,
): Route[] {
  return bind(operationsApi, {
    list: async () => ({ operations: describeOperations() }),
    async run({ params, body, person, ctx }) {
      const one = operationById(params.operation);
      const { selection, options, dryRun, seed } = body;
      if (!dryRun && !mayAct(person.role, 'editor'))
        throw new HttpProblem(
          403,
          'Not allowed',
          `You need the role editor to change a file; your role is ${person.role}.`,
        );
      const seen = dryRun ? undefined : seenRevision(ctx);
      if (seen !== undefined) await store.checkSeen(params.id, seen);
      const { text, number, catalogue } = await store.text(params.id, seen ?? 'head');
      const planned = await pool.run(
        'plan',
        { operation: one.id, selection, options, seed, review: true, onlyKnown: true },
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
    async script({ params, body, person, ctx }) {
      if (!body.dryRun && !mayAct(person.role, 'editor'))
        throw new HttpProblem(
          403,
          'Not allowed',
          `You need the role editor to change a file; your role is ${person.role}.`,
        );
      const seen = body.dryRun ? undefined : seenRevision(ctx);
      if (seen !== undefined) await store.checkSeen(params.id, seen);
      const found = body.script && (await library.version(body.script.id, body.script.version ?? 'head', person));
      const source = found?.content ?? body.source;
      if (source === undefined)
        throw new HttpProblem(400, 'The request does not fit', 'Name a script of the library, or send its source.');
      const { text, number, catalogue } = await store.text(params.id, seen ?? 'head');
      const { graph = readStored(text).head.root, reach, values, seed } = body;
      await checkScript(pool, source, 'The script has mistakes', { doc: text, catalogue });
      const planned = await withAssets(
        (known) =>
          pool.run(
            'script',
            { graph, reach, source, values, seed, ...(known && { assets: known }) },
            { doc: text, catalogue, limit: scriptEnd },
          ),
        assets && ((paths) => checkPaths(assets, paths)),
      );
      const { changes, failure, report, outputs } = planned;
      const log = planned.log.map(({ values: _opened, ...line }) => line);
      if (failure) {
        const { message, line, node } = failure;
        const where = `${line === undefined ? '' : `Line ${line}: `}${message}`;
        const known = { ...(line !== undefined && { line }), ...(node !== undefined && { node }) };
        throw new HttpProblem(422, 'The script failed', where, { ...known, log });
      }
      const answer = { report, log, outputs, changes: changes.map(toldChange) };
      if (seen === undefined || planned.edit.steps.length === 0) {
        say(ctx, { nothing: true });
        return { revision: number, ...answer };
      }
      say(ctx, { detail: found?.title ?? 'Your own script' });
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
  });
}
