import type { Context, Next } from 'koa';
import { collectDefaultMetrics, Histogram, Registry } from 'prom-client';

/** What a server counts of itself, for Prometheus (text format 0.0.4). */
export class Metrics {
  private readonly registry = new Registry();
  private readonly seconds: Histogram<'method' | 'route' | 'status'>;

  constructor() {
    collectDefaultMetrics({ register: this.registry });
    this.seconds = new Histogram({
      name: 'basitax_request_seconds',
      help: 'Time until a request was answered, by route and status.',
      labelNames: ['method', 'route', 'status'],
      buckets: [0.005, 0.02, 0.05, 0.1, 0.25, 0.5, 1, 2.5, 10],
      registers: [this.registry],
    });
  }

  readonly type = Registry.PROMETHEUS_CONTENT_TYPE;

  text(): Promise<string> {
    return this.registry.metrics();
  }

  /** Counts requests by the route that they fit, so that there are as many rows as routes. */
  count() {
    return async (ctx: Context, next: Next): Promise<void> => {
      const started = performance.now();
      await next();
      const route = (ctx as { _matchedRoute?: unknown })._matchedRoute;
      this.seconds.observe(
        { method: ctx.method, route: typeof route === 'string' ? route : 'other', status: String(ctx.status) },
        (performance.now() - started) / 1000,
      );
    };
  }
}
