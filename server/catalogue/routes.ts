import { noScheme, schemeSchema } from '@basitax/core/color/scheme';
import { catalogueSchema } from '@basitax/core/document/catalogue';
import { catalogueChanges } from '@basitax/core/document/catalogue-changes';
import { z } from 'zod';
import { publishSchema, sharedNameSchema } from '../api.ts';
import { TeamSettingRow } from '../db/models.ts';
import { HttpProblem } from '../http/problem.ts';
import { type Route, route } from '../http/route.ts';
import { reachable } from '../projects/access.ts';
import type { Catalogues } from './catalogues.ts';

const which = z.object({ id: z.string().min(1).max(100), version: z.coerce.number().int().min(0) });
const version = z.object({ name: sharedNameSchema, version: z.coerce.number().int().min(1) });

/** Kinds, their versions, shared kinds, and the team's colours: everyone reads, leads change, editors publish. */
export function catalogueRoutes(catalogues: Catalogues): Route[] {
  return [
    route({
      method: 'get',
      path: '/api/catalogues',
      role: 'viewer',
      async handle() {
        const team = await catalogues.team();
        return { team: { id: team.id, version: team.version }, versions: await catalogues.versions() };
      },
    }),
    route({
      method: 'get',
      path: '/api/catalogues/:id/:version',
      role: 'viewer',
      params: which,
      query: z.object({ shared: z.enum(['yes', 'no']).default('yes') }),
      async handle({ params, query }) {
        if (query.shared === 'yes') return catalogues.get(params);
        const plain = await catalogues.without(params.id, params.version);
        if (!plain)
          throw new HttpProblem(
            404,
            'Not found',
            `There is no version ${params.version} of a catalogue “${params.id}”.`,
          );
        return plain;
      },
    }),
    route({
      method: 'post',
      path: '/api/catalogues/report',
      role: 'lead',
      quiet: true,
      body: z.object({ catalogue: catalogueSchema }),
      async handle({ body, person }) {
        const before = await catalogues.team();
        const plain = { ...before, kinds: before.kinds.filter((kind) => !kind.shared) };
        const changes = catalogueChanges(plain, {
          ...body.catalogue,
          kinds: body.catalogue.kinds.filter((kind) => !kind.shared),
        });
        const touched = [...new Set(changes.flatMap((change) => change.kind ?? []))];
        return { changes, files: await catalogues.uses(touched, person) };
      },
    }),
    route({
      method: 'post',
      path: '/api/catalogues',
      about: 'Changes the catalogue of kinds',
      role: 'lead',
      body: z.object({ catalogue: catalogueSchema, seen: z.int().min(0) }),
      async handle({ body, ctx }) {
        const stored = await catalogues.change(body.catalogue, body.seen);
        ctx.status = 201;
        return { id: stored.id, version: stored.version };
      },
    }),
    route({
      method: 'get',
      path: '/api/kind-uses',
      role: 'viewer',
      query: z.object({ kinds: z.string().max(20_000) }),
      handle: async ({ query, person }) => ({
        files: await catalogues.uses(query.kinds.split(',').filter(Boolean), person),
      }),
    }),
    route({
      method: 'get',
      path: '/api/shared-kinds',
      role: 'viewer',
      handle: async () => ({ kinds: await catalogues.shared() }),
    }),
    route({
      method: 'get',
      path: '/api/shared-kinds/:name/:version',
      role: 'viewer',
      params: version,
      handle: async ({ params }) => ({ body: await catalogues.body(params.name, params.version) }),
    }),
    route({
      method: 'post',
      path: '/api/shared-kinds/:name',
      about: 'Publishes a shared kind',
      role: 'editor',
      params: z.object({ name: sharedNameSchema }),
      body: publishSchema,
      async handle({ params, body, person, ctx }) {
        await reachable(person, body.file);
        const stored = await catalogues.publish(params.name, body, person.name);
        ctx.status = 201;
        return stored;
      },
    }),
    route({
      method: 'get',
      path: '/api/scheme',
      role: 'viewer',
      async handle() {
        const row = await TeamSettingRow.findByPk('scheme');
        return row ? schemeSchema.parse(JSON.parse(row.value)) : noScheme;
      },
    }),
    route({
      method: 'put',
      path: '/api/scheme',
      about: 'Changes the colours of the team',
      role: 'lead',
      body: schemeSchema,
      async handle({ body }) {
        await TeamSettingRow.upsert({ name: 'scheme', value: JSON.stringify(body) });
        return undefined;
      },
    }),
  ];
}
