import { cataloguesApi } from '@basitax/api/catalogues';
import { noScheme, schemeSchema } from '@basitax/core/color/scheme';
import { catalogueChanges } from '@basitax/core/document/catalogue-changes';
import { mergeEvidence, noEvidence } from '@basitax/core/learn/evidence';
import { evidenceJson } from '@basitax/core/learn/evidence-json';
import { TeamSettingRow } from '../db/models.ts';
import type { FileStore } from '../files/store.ts';
import { HttpProblem } from '../http/problem.ts';
import { bind, type Route } from '../http/route.ts';
import { reachable } from '../projects/access.ts';
import type { Workplace } from '../work/desk.ts';

/** Kinds, their versions, shared kinds, and the team's colours: everyone reads, leads change, editors publish. */
export function catalogueRoutes(store: FileStore, pool: Workplace): Route[] {
  const { catalogues } = store;
  return bind(cataloguesApi, {
    async list() {
      const team = await catalogues.team();
      return { team: { id: team.id, version: team.version }, versions: await catalogues.versions() };
    },
    async get({ params, query }) {
      if (query.shared === 'yes') return catalogues.get(params);
      const plain = await catalogues.without(params.id, params.version);
      if (!plain)
        throw new HttpProblem(404, 'Not found', `There is no version ${params.version} of a catalogue “${params.id}”.`);
      return plain;
    },
    async report({ body, person }) {
      const before = await catalogues.team();
      const plain = { ...before, kinds: before.kinds.filter((kind) => !kind.shared) };
      const changes = catalogueChanges(plain, {
        ...body.catalogue,
        kinds: body.catalogue.kinds.filter((kind) => !kind.shared),
      });
      const touched = [...new Set(changes.flatMap((change) => change.kind ?? []))];
      return { changes, files: await catalogues.uses(touched, person) };
    },
    async change({ body }) {
      const stored = await catalogues.change(body.catalogue, body.seen);
      return { id: stored.id, version: stored.version };
    },
    uses: async ({ query, person }) => ({
      files: await catalogues.uses(query.kinds.split(',').filter(Boolean), person),
    }),
    async evidence({ body, person }) {
      const team = await catalogues.team();
      const all = noEvidence();
      for (const id of body.files) {
        await reachable(person, id);
        const { text } = await store.text(id, 'head');
        mergeEvidence(all, await pool.run('evidence', { by: body.by }, { doc: text, catalogue: team }));
      }
      return evidenceJson(all);
    },
    shared: async () => ({ kinds: await catalogues.shared() }),
    sharedBody: async ({ params }) => ({ body: await catalogues.body(params.name, params.version) }),
    async publish({ params, body, person }) {
      await reachable(person, body.file);
      return catalogues.publish(params.name, body, person.name);
    },
    async scheme() {
      const row = await TeamSettingRow.findByPk('scheme');
      return row ? schemeSchema.parse(JSON.parse(row.value)) : noScheme;
    },
    async changeScheme({ body }) {
      await TeamSettingRow.upsert({ name: 'scheme', value: JSON.stringify(body) });
      return undefined;
    },
  });
}
