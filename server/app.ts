import { randomBytes } from 'node:crypto';
import { existsSync } from 'node:fs';
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { contracts, serverApi } from '@basitax/api/contracts';
import { openApi } from '@basitax/api/openapi';
import Router from '@koa/router';
import Koa from 'koa';
import compress from 'koa-compress';
import helmet from 'koa-helmet';
import serveStatic from 'koa-static';
import type { Logger } from 'pino';
import type { Sequelize } from 'sequelize';
import { assetRoutes } from './assets/routes.ts';
import type { AssetStore } from './assets/store.ts';
import { auditRoutes } from './audit/routes.ts';
import { sameOrigin, sessionRoutes, whoAsks } from './auth/session.ts';
import { Batches } from './batch/batches.ts';
import { RunChanges } from './batch/change-groups.ts';
import { KeptReports, reportRoutes } from './batch/kept-reports.ts';
import { batchRoutes } from './batch/routes.ts';
import { Schedules, scheduleRoutes } from './batch/schedules.ts';
import { Tables, tableRoutes } from './batch/tables.ts';
import { catalogueRoutes } from './catalogue/routes.ts';
import { eventRoutes } from './events/routes.ts';
import { webhookRoutes } from './events/webhook-routes.ts';
import { fileRoutes } from './files/routes.ts';
import { FileSearch } from './files/search.ts';
import { shelfRoutes } from './files/shelf-routes.ts';
import type { FileStore } from './files/store.ts';
import { handoverRoutes } from './handover/routes.ts';
import { healthRoutes } from './health/routes.ts';
import { Metrics } from './http/metrics.ts';
import { HttpProblem, problems } from './http/problem.ts';
import { bind, type Route, serve } from './http/route.ts';
import { atSite, hasTls, isLoopback, type Site, siteOf } from './http/site.ts';
import { answerRoutes } from './inspect/answer-routes.ts';
import { inspectRoutes } from './inspect/routes.ts';
import { Library } from './library/library.ts';
import { libraryRoutes } from './library/routes.ts';
import { LiveFiles } from './live/live.ts';
import { liveRoutes } from './live/routes.ts';
import { operationRoutes } from './operations/routes.ts';
import { peopleRoutes } from './people/routes.ts';
import { projectRoutes } from './projects/routes.ts';
import { renderRoutes } from './render/routes.ts';
import type { RenderService } from './render/service.ts';
import { settingRoutes } from './settings/routes.ts';
import { tokenRoutes } from './tokens/routes.ts';
import type { Workplace } from './work/desk.ts';

export interface Parts {
  readonly sequelize: Sequelize;
  readonly store: FileStore;
  readonly pool: Workplace;
  readonly log: Logger;
  /** Where assets are found by name, if there is such a place. */
  readonly assets?: AssetStore;
  /** What makes pictures of nodes and measures them, if there is such a service. */
  readonly render?: RenderService;
  /** The folder of the built web application, if it is served from here. */
  readonly web?: string;
  /** Hosts that webhooks may be sent to; none where nothing is said. */
  readonly webhookHosts?: readonly string[];
  /** How it is reached; on loopback alone where nothing is said. */
  readonly site?: Site;
  /** Take an answer that its contract does not know for an error: so the tests run. */
  readonly strict?: boolean;
}

/** What batch runs are started, kept and scheduled by. */
export function batchParts({ sequelize, store, pool }: Pick<Parts, 'sequelize' | 'store' | 'pool'>): {
  readonly batches: Batches;
  readonly reports: KeptReports;
  readonly schedules: Schedules;
} {
  const library = new Library(sequelize, pool);
  const batches = new Batches(sequelize, store, pool, library, new FileSearch(store, pool));
  const reports = new KeptReports(batches);
  return { batches, reports, schedules: new Schedules(sequelize, batches, reports) };
}

/** Every route of the API, as data. `failed` hears of what goes wrong between requests. */
export function allRoutes(
  {
    sequelize,
    store,
    pool,
    assets,
    render,
    webhookHosts,
  }: Pick<Parts, 'sequelize' | 'store' | 'pool' | 'assets' | 'render' | 'webhookHosts'>,
  failed: (error: unknown) => void = () => {},
  metrics = new Metrics(),
): Route[] {
  const library = new Library(sequelize, pool);
  const search = new FileSearch(store, pool);
  const { batches, reports, schedules } = batchParts({ sequelize, store, pool });
  return [
    ...bind(serverApi, {
      async alive({ ctx }) {
        await sequelize.authenticate();
        ctx.set('Cache-Control', 'no-store');
        return { status: 'ok' as const };
      },
      async metrics({ ctx }) {
        // names of routes and memory are nobody else's business; a watcher elsewhere asks through a proxy that lets it
        if (!isLoopback(ctx.ip.replace(/^::ffff:/, '')))
          throw new HttpProblem(403, 'Not allowed', 'These figures are available on the same machine only.');
        ctx.set('Cache-Control', 'no-store');
        ctx.type = metrics.type;
        return metrics.text();
      },
      describe: async () => openApi(contracts),
    }),
    ...sessionRoutes(),
    ...peopleRoutes(),
    ...auditRoutes(),
    ...projectRoutes(),
    ...fileRoutes(store, pool, search),
    ...shelfRoutes(store),
    ...handoverRoutes(store, pool),
    ...healthRoutes(sequelize),
    ...liveRoutes(new LiveFiles(sequelize, failed)),
    ...operationRoutes(store, pool, library, assets),
    ...catalogueRoutes(store, pool),
    ...settingRoutes(),
    ...assetRoutes(assets),
    ...renderRoutes(render),
    ...inspectRoutes(store),
    ...answerRoutes(store, pool),
    ...libraryRoutes(library),
    ...batchRoutes(batches, new RunChanges(sequelize, batches, store, pool)),
    ...scheduleRoutes(schedules),
    ...reportRoutes(reports),
    ...tableRoutes(new Tables(batches, search, store, pool)),
    ...eventRoutes(),
    ...webhookRoutes(webhookHosts ?? []),
    ...tokenRoutes(),
  ];
}

export function createApp(parts: Parts): Koa {
  const app = new Koa();
  const site = parts.site ?? siteOf({});
  app.proxy = site.proxies > 0;
  // what was sent before it reached the first proxy that is ours, anybody may have written
  app.maxIpsCount = site.proxies;
  // a browser that goes elsewhere closes its connections: that is no error of ours
  app.on('error', (error: NodeJS.ErrnoException) =>
    parts.log[['EPIPE', 'ECONNRESET', 'ERR_STREAM_PREMATURE_CLOSE'].includes(error.code ?? '') ? 'debug' : 'error'](
      { err: error },
      'response failed',
    ),
  );
  app.use(async (ctx, next) => {
    const started = performance.now();
    ctx.state.request = randomBytes(6).toString('hex');
    await next();
    parts.log.info(
      {
        request: ctx.state.request,
        method: ctx.method,
        path: ctx.path,
        status: ctx.status,
        ms: Math.round(performance.now() - started),
        person: ctx.state.person?.login,
      },
      'request',
    );
  });
  const metrics = new Metrics();
  app.use(metrics.count());
  app.use(problems(parts.log));
  app.use(
    helmet({
      contentSecurityPolicy: {
        useDefaults: false,
        directives: {
          defaultSrc: ["'self'"],
          // scripts run in a sandbox that is WebAssembly
          scriptSrc: ["'self'", "'wasm-unsafe-eval'"],
          workerSrc: ["'self'"],
          // the component library sets style elements for its scroll lock and its messages
          styleSrc: ["'self'", "'unsafe-inline'"],
          imgSrc: ["'self'", 'data:', 'blob:'],
          fontSrc: ["'self'"],
          connectSrc: ["'self'"],
          objectSrc: ["'none'"],
          frameAncestors: ["'none'"],
          baseUri: ["'self'"],
          formAction: ["'self'"],
        },
      },
      // the same as frame-ancestors, for browsers that do not know that
      xFrameOptions: { action: 'deny' },
      // without TLS in front there is nothing to insist on
      strictTransportSecurity: hasTls(site) && { maxAge: 63_072_000, includeSubDomains: false },
      crossOriginOpenerPolicy: false,
      originAgentCluster: false,
    }),
  );
  app.use(atSite(site));
  app.use(compress({ threshold: 2048, br: false }));
  if (parts.web)
    app.use(
      serveStatic(parts.web, {
        maxage: 0,
        setHeaders: (res, path) =>
          void (path.includes('/assets/') && res.setHeader('Cache-Control', 'public, max-age=31536000, immutable')),
      }),
    );
  app.use(sameOrigin());
  app.use(whoAsks());

  const router = new Router();
  const failed = (error: unknown) => parts.log.warn({ err: error }, 'could not ask how files stand');
  for (const one of allRoutes(parts, failed, metrics)) {
    router[one.contract.method](one.contract.path, async (ctx) => {
      if (ctx.path.startsWith('/api/')) ctx.set('Cache-Control', 'no-store');
      await serve(one, ctx as never, parts.strict ?? false);
    });
  }
  app.use(router.routes());
  app.use(router.allowedMethods());
  app.use(async (ctx, next) => {
    await next();
    // addresses of the application itself all lead to its one page
    if (
      ctx.status !== 404 ||
      ctx.body !== undefined ||
      ctx.method !== 'GET' ||
      ctx.path.startsWith('/api/') ||
      !parts.web ||
      !ctx.accepts('html')
    )
      return;
    const page = join(parts.web, 'index.html');
    if (!existsSync(page)) return;
    ctx.status = 200;
    ctx.type = 'text/html';
    ctx.body = await readFile(page);
  });
  return app;
}
