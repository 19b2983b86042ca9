import { inspectApi } from '@basitax/api/inspect';
import { Kinds } from '@basitax/core/document/kinds';
import { meantNames } from '@basitax/core/inspect/uses';
import { TimesRow } from '../db/models.ts';
import type { FileStore } from '../files/store.ts';
import { bind, type Route } from '../http/route.ts';
import { hiddenFrom } from '../projects/access.ts';
import { fileLinks, namesOfUses, searchUses } from './uses.ts';

/**
 * What is asked over all files: where things are used, what hangs on what; and what is known of a file beside its
 * document.
 */
export function inspectRoutes(store: FileStore): Route[] {
  return bind(inspectApi, {
    async uses({ query, person }) {
      const { match, what, name } = query;
      // the index has ids: what they are called the team's catalogue knows
      const meant =
        match === 'part' && name !== undefined ? meantNames(new Kinds(await store.catalogues.team()), what, name) : [];
      return searchUses(query, await hiddenFrom(person), meant);
    },
    names: async ({ query, person }) => ({ names: await namesOfUses(query, await hiddenFrom(person)) }),
    map: async ({ person }) => fileLinks(await hiddenFrom(person)),
    bypassed: async ({ params }) => ({ since: await store.bypassedSince(params.id) }),
    async times({ params }) {
      await store.file(params.id);
      const row = await TimesRow.findByPk(params.id);
      return {
        times: row
          ? {
              byPath: JSON.parse(row.content),
              author: row.author,
              source: row.source,
              createdAt: row.createdAt.toISOString(),
            }
          : null,
      };
    },
    async saveTimes({ params, body, person }) {
      await store.file(params.id);
      await TimesRow.upsert({
        fileId: params.id,
        content: JSON.stringify(body.byPath),
        author: person.name,
        source: body.source,
        createdAt: new Date(),
      });
      return undefined;
    },
  });
}
