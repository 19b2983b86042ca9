import { z } from 'zod';
import { answersApi } from './answers.ts';
import { auditApi } from './audit.ts';
import { batchesApi } from './batches.ts';
import { cataloguesApi } from './catalogues.ts';
import { type Contract, contract, type Family, plain } from './contract.ts';
import { eventsApi } from './events.ts';
import { filesApi } from './files.ts';
import { handoverApi } from './handover.ts';
import { healthApi } from './health.ts';
import { inspectApi } from './inspect.ts';
import { libraryApi } from './library.ts';
import { liveApi } from './live.ts';
import { operationsApi } from './operations.ts';
import { peopleApi, sessionApi } from './people.ts';
import { projectsApi } from './projects.ts';
import { reportsApi } from './reports.ts';
import { schedulesApi } from './schedules.ts';
import { assetsApi, renderApi } from './services.ts';
import { settingsApi } from './settings.ts';
import { shelfApi } from './shelf.ts';
import { tablesApi } from './tables.ts';
import { tokensApi } from './tokens.ts';
import { webhooksApi } from './webhooks.ts';

/** What the server says of itself. */
export const serverApi = {
  alive: contract({
    method: 'get',
    path: '/healthz',
    about: 'Whether the server and its database answer',
    answer: z.object({ status: z.literal('ok') }),
  }),
  metrics: contract({
    method: 'get',
    path: '/metrics',
    about: 'Figures of the server for Prometheus, for requests from the same machine only',
    answer: plain,
    media: ['text/plain'],
    problems: [403],
  }),
  describe: contract({
    method: 'get',
    path: '/api/openapi.json',
    about: 'This document',
    answer: z.looseObject({ openapi: z.string() }),
  }),
};

/** Every route of the API, by family. */
export const contracts = {
  server: serverApi,
  session: sessionApi,
  people: peopleApi,
  audit: auditApi,
  projects: projectsApi,
  files: filesApi,
  shelf: shelfApi,
  handover: handoverApi,
  health: healthApi,
  live: liveApi,
  operations: operationsApi,
  catalogues: cataloguesApi,
  settings: settingsApi,
  assets: assetsApi,
  render: renderApi,
  inspect: inspectApi,
  answers: answersApi,
  library: libraryApi,
  batches: batchesApi,
  schedules: schedulesApi,
  reports: reportsApi,
  tables: tablesApi,
  events: eventsApi,
  webhooks: webhooksApi,
  tokens: tokensApi,
} satisfies Record<string, Family>;

/** All of them in one row. */
export const allContracts: readonly Contract[] = Object.values<Family>(contracts).flatMap((family) =>
  Object.values(family),
);
