import type { Context, Next } from 'koa';
import { HttpProblem } from './problem.ts';

/** How the server is reached, and whom it believes. */
export interface Site {
  /** The address that people type, where it is served with TLS: `https://basitax.house`. */
  readonly publicUrl?: string;
  /** Names by which it may be asked, with the port where it is none of the usual ones. */
  readonly hosts: readonly string[];
  /** So many proxies stand in front, each of which adds to X-Forwarded-For. */
  readonly proxies: number;
}

const loopback = ['localhost', '127.0.0.1', '[::1]'];

export const isLoopback = (host: string): boolean => loopback.includes(host) || host === '::1';

/** Reads it from the environment. Throws Error with a sentence where something there does not fit. */
export function siteOf(env: Readonly<Record<string, string | undefined>>): Site {
  const { PUBLIC_URL: publicUrl, ALLOWED_HOSTS: allowed = '', TRUSTED_PROXIES: trusted = '0' } = env;
  if (publicUrl !== undefined && !(URL.canParse(publicUrl) && /^https?:$/.test(new URL(publicUrl).protocol)))
    throw new Error(`PUBLIC_URL is “${publicUrl}”; it must be an address such as https://basitax.house.`);
  if (!/^\d$/.test(trusted))
    throw new Error(`TRUSTED_PROXIES is “${trusted}”; it must be the number of proxies in front, from 0 to 9.`);
  if (publicUrl?.startsWith('https:') && trusted === '0')
    throw new Error(
      'PUBLIC_URL begins with https. Set TRUSTED_PROXIES to the number of proxies in front, for example 1.',
    );
  const named = allowed.split(',').flatMap((name) => name.trim().toLowerCase() || []);
  return {
    ...(publicUrl !== undefined && { publicUrl }),
    hosts: [...loopback, ...named, ...(publicUrl === undefined ? [] : [new URL(publicUrl).host.toLowerCase()])],
    proxies: Number(trusted),
  };
}

/** Do browsers reach it with TLS alone? */
export const hasTls = ({ publicUrl }: Site): boolean => publicUrl?.startsWith('https:') ?? false;

/** Paths that watchers of the machine ask by whatever address. */
const forAll = new Set(['/healthz', '/metrics']);

/**
 * Refuses requests for a name that is none of the server's: a page of elsewhere could lead a browser here under its own
 * (DNS rebinding). Says to what follows whether browsers come with TLS.
 */
export function atSite(site: Site) {
  const known = new Set(site.hosts);
  const tls = hasTls(site);
  return async (ctx: Context, next: Next): Promise<void> => {
    const host = ctx.host.toLowerCase();
    if (!forAll.has(ctx.path) && !known.has(host) && !known.has(host.replace(/:\d+$/, '')))
      throw new HttpProblem(
        400,
        'Unknown address',
        `This server does not answer to “${host.slice(0, 100)}”. Its administrator can add the name with PUBLIC_URL or ALLOWED_HOSTS.`,
      );
    ctx.state.hasTls = tls;
    await next();
  };
}
