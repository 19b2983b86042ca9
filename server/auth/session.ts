import { createHash, randomBytes } from 'node:crypto';
import { hash, verify } from '@node-rs/argon2';
import type { Context, Next } from 'koa';
import { Op } from 'sequelize';
import { z } from 'zod';
import { mayAct, type Person, personSchema, type Role, signInSchema } from '../api.ts';
import { Session, TokenRow, User } from '../db/models.ts';
import { HttpProblem } from '../http/problem.ts';
import { type Route, route } from '../http/route.ts';

const cookie = 'basitax_session';
const days = 30;

/** Argon2id with the library's settings: 19 MiB, two passes, as OWASP advises. */
export function hashPassword(password: string): Promise<string> {
  return hash(password, { memoryCost: 19456, timeCost: 2, parallelism: 1 });
}

const personOf = (user: User): Person => personSchema.parse({ id: user.id, login: user.login, name: user.name, role: user.role satisfies Role });

export const hashOf = (token: string): string => createHash('sha256').update(token).digest('hex');

/** Finds out who is asking, from the cookie, or from a personal token. Pages and routes decide what that person may do. */
export function whoAsks() {
  return async (ctx: Context, next: Next): Promise<void> => {
    const bearer = /^Bearer (\S+)$/.exec(ctx.get('Authorization'))?.[1];
    if (bearer !== undefined) {
      const person = await ownerOf(bearer);
      if (!person) throw new HttpProblem(401, 'Not signed in', 'The token is none, has expired or was taken back.');
      ctx.state.person = person;
      ctx.state.byToken = true;
      await next();
      return;
    }
    const token = ctx.cookies.get(cookie);
    if (token && /^[a-f0-9]{64}$/.test(token)) {
      const session = await Session.findOne({ where: { id: hashOf(token), expiresAt: { [Op.gt]: new Date() } } });
      const user = session && (await User.findByPk(session.userId));
      if (user) ctx.state.person = personOf(user);
    }
    await next();
  };
}

/** The person that a token acts for, with the lesser of both roles. */
async function ownerOf(token: string): Promise<Person | undefined> {
  const row = await TokenRow.findOne({ where: { hash: hashOf(token), expiresAt: { [Op.gt]: new Date() } } });
  const user = row && (await User.findByPk(row.userId));
  if (!row || !user) return undefined;
  // once a minute is often enough to see whether it is still in use
  if (!row.usedAt || Date.now() - row.usedAt.getTime() > 60_000) await row.update({ usedAt: new Date() });
  const person = personOf(user);
  return mayAct(person.role, row.role) ? { ...person, role: row.role } : person;
}

/** Refuses what another site's page sends: the browser says where a request comes from. */
export function sameOrigin() {
  return async (ctx: Context, next: Next): Promise<void> => {
    const origin = ctx.get('Origin');
    if (origin && ctx.method !== 'GET' && ctx.method !== 'HEAD' && !(URL.canParse(origin) && new URL(origin).host === ctx.host)) {
      throw new HttpProblem(403, 'Not allowed', `A page of ${origin} may not change anything here.`);
    }
    await next();
  };
}

/** Slows guessing down: after ten failures for one login from one address, a minute's pause. */
class Attempts {
  private readonly failures = new Map<string, { count: number; until: number }>();

  check(key: string): void {
    const entry = this.failures.get(key);
    if (entry && entry.count >= 10 && Date.now() < entry.until) throw new HttpProblem(429, 'Too many tries', 'Wait a minute and try again.');
    if (entry && Date.now() >= entry.until) this.failures.delete(key);
  }

  failed(key: string): void {
    if (this.failures.size > 10_000) this.failures.clear();
    this.failures.set(key, { count: (this.failures.get(key)?.count ?? 0) + 1, until: Date.now() + 60_000 });
  }

  succeeded(key: string): void {
    this.failures.delete(key);
  }
}

export function sessionRoutes(): Route[] {
  const attempts = new Attempts();
  return [
    route({
      method: 'post',
      path: '/api/session',
      body: signInSchema,
      async handle({ body, ctx }) {
        const key = `${ctx.ip} ${body.login}`;
        attempts.check(key);
        const user = await User.findOne({ where: { login: body.login } });
        // an unknown login costs as much as a wrong password, so that the two cannot be told apart
        const stored = user?.passwordHash ?? '$argon2id$v=19$m=19456,t=2,p=1$AAAAAAAAAAAAAAAAAAAAAA$AAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAA';
        const right = await verify(stored, body.password).catch(() => false);
        if (!user || !right) {
          attempts.failed(key);
          throw new HttpProblem(401, 'Not signed in', 'Login and password do not go together.');
        }
        attempts.succeeded(key);
        const token = randomBytes(32).toString('hex');
        const expiresAt = new Date(Date.now() + days * 86_400_000);
        await Session.create({ id: hashOf(token), userId: user.id, expiresAt });
        await Session.destroy({ where: { expiresAt: { [Op.lt]: new Date() } } });
        ctx.cookies.set(cookie, token, { httpOnly: true, sameSite: 'lax', secure: ctx.secure, expires: expiresAt, overwrite: true });
        return personOf(user);
      },
    }),
    route({
      method: 'get',
      path: '/api/session',
      async handle({ ctx }) {
        return { person: (ctx.state.person as Person | undefined) ?? null };
      },
    }),
    route({
      method: 'delete',
      path: '/api/session',
      query: z.object({}),
      async handle({ ctx }) {
        const token = ctx.cookies.get(cookie);
        if (token) await Session.destroy({ where: { id: hashOf(token) } });
        ctx.cookies.set(cookie, null, { httpOnly: true, sameSite: 'lax', secure: ctx.secure });
        return undefined;
      },
    }),
  ];
}
