import { answersApi } from '@basitax/api/answers';
import { mostBody } from '@basitax/api/contract';
import { emptyCatalogue } from '@basitax/core/document/catalogue';
import type { Finding } from '@basitax/core/finding';
import { toldChange } from '@basitax/core/inspect/compare/compare';
import { ruleById } from '@basitax/core/rules/rules';
import { TimesRow } from '../db/models.ts';
import type { FileStore, TextOf } from '../files/store.ts';
import { rawBytes } from '../http/body.ts';
import { HttpProblem } from '../http/problem.ts';
import { bind, type Route } from '../http/route.ts';
import server from '../package.json' with { type: 'json' };
import { reachable, reachableProject } from '../projects/access.ts';
import { rulesForFile, rulesOf } from '../projects/projects.ts';
import type { Workplace } from '../work/desk.ts';

const { version } = server;

const counts = (findings: readonly Finding[]) => {
  const count = (severity: Finding['severity']) => findings.filter((one) => one.severity === severity).length;
  return { error: count('error'), warning: count('warning'), info: count('info') };
};

function knownRules(ids: readonly string[] | undefined): string[] | undefined {
  const unknown = ids?.find((id) => !ruleById(id));
  if (unknown !== undefined) throw new HttpProblem(422, 'No such rule', `There is no house rule “${unknown}”.`);
  return ids && [...ids];
}

/** What the command line asks of files, over HTTP: the same functions, over what is stored or sent. */
export function answerRoutes(store: FileStore, pool: Workplace): Route[] {
  const of = ({ text, catalogue }: TextOf) => ({ doc: text, catalogue });
  return bind(answersApi, {
    async check({ params, query }) {
      const at = await store.text(params.id, params.number);
      const { profile } = await rulesForFile(params.id);
      const rules = knownRules(query.rules);
      const findings = await pool.run('findings', { profile, facts: {}, ...(rules && { rules }) }, of(at));
      return { revision: at.number, findings: [...findings], counts: counts(findings) };
    },
    async checkLog({ params, query, ctx }) {
      const at = await store.text(params.id, params.number);
      const { profile } = await rulesForFile(params.id);
      ctx.type = query.format === 'sarif' ? 'application/sarif+json' : 'application/xml';
      return pool.run('checkLog', { profile, file: at.title, format: query.format, version }, of(at));
    },
    async measures({ params }) {
      const at = await store.text(params.id, params.number);
      const { readability, ...measures } = await pool.run('measure', {}, of(at));
      return { revision: at.number, ...measures, readability: readability.map((one) => ({ ...one })) };
    },
    async fingerprint({ params, query }) {
      const at = await store.text(params.id, params.number);
      return { revision: at.number, ...(await pool.run('prints', { nodes: query.nodes === 'yes' }, of(at))) };
    },
    async dependencies({ params, query }) {
      const at = await store.text(params.id, params.number);
      const nodes = query.nodes.split(',').flatMap((one) => one.trim() || []);
      if (nodes.length === 0) throw new HttpProblem(422, 'Which nodes?', 'Name at least one node, by id or path.');
      const { paths, gone, ...found } = await pool.run('depends', { nodes }, of(at));
      const ways = paths === undefined ? {} : { paths: paths && { ...paths } };
      return { revision: at.number, ...found, gone: { ...gone }, ...ways };
    },
    async leftovers({ params }) {
      const at = await store.text(params.id, params.number);
      const findings = await pool.run('leftovers', {}, of(at));
      return { revision: at.number, findings: [...findings], counts: counts(findings) };
    },
    async cost({ params }) {
      const row = await TimesRow.findByPk(params.id);
      if (!row)
        throw new HttpProblem(
          422,
          'No times',
          'No times are kept of this file. Send some to /api/files/{id}/times first.',
        );
      const at = await store.text(params.id, params.number);
      const byPath = JSON.parse(row.content) as Record<string, number>;
      const found = await pool.run('costs', { byPath }, of(at));
      const { shared, waste, off, critical, nodes, ...rest } = found;
      return {
        ...{ revision: at.number, ...rest, shared: { ...shared }, waste: { ...waste }, off: { ...off } },
        ...{ critical: { ...critical }, nodes: nodes.map((one) => ({ ...one })) },
      };
    },
    async words({ params, ctx }) {
      ctx.type = 'text/plain; charset=utf-8';
      return pool.run('words', {}, of(await store.text(params.id, params.number)));
    },
    async compare({ params, query, person }) {
      const after = await store.text(params.id, query.after);
      if (query.with !== undefined) await reachable(person, query.with);
      const number = query.before ?? (query.with === undefined ? after.number - 1 : 'head');
      if (number === 0) throw new HttpProblem(422, 'Nothing before', 'This is the first revision of the file.');
      const before = await store.text(query.with ?? params.id, number);
      const input = { before: before.text, catalogue: before.catalogue };
      const found = await pool.run('compare', input, of(after));
      const patch = query.patch === 'yes' ? await pool.run('patch', input, of(after)) : undefined;
      return {
        ...{ before: before.number, after: after.number, verdict: found.fingerprint.verdict },
        ...{ changes: found.changes.map(toldChange), counts: found.counts, matched: found.matched },
        ...(patch && { patch: patch.map((one) => ({ ...one })) }),
      };
    },
    async convert({ query, ctx }) {
      const content = await rawBytes(ctx, mostBody(answersApi.convert));
      const catalogue = await store.catalogues.team();
      const wanted = { name: query.name, content, format: query.to, routes: query.routes === 'yes' };
      const { text: made, lost, findings } = await pool.run('convert', wanted, { catalogue });
      return { text: made, lost: [...lost], findings: [...findings] };
    },
    async checkSent({ query, person, ctx }) {
      await reachableProject(person, query.project);
      const content = await rawBytes(ctx, mostBody(answersApi.checkSent));
      const { profile } = await rulesOf(query.project);
      const catalogue = await store.catalogues.team();
      const { read, found } = await pool.run('checkSent', { name: query.name, content, profile }, { catalogue });
      return { read: [...read], findings: [...found], counts: counts(found) };
    },
    async merge({ body }) {
      const { text, conflicts, findings } = await pool.run('merge', body, { catalogue: emptyCatalogue });
      return { text, conflicts: [...conflicts], findings: [...findings] };
    },
  });
}
