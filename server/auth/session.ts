import { createHash, randomBytes } from 'node:crypto';
import { type Person, personSchema, sessionApi } from '@basitax/api/people';
import { mayAct, type Role } from '@basitax/api/roles';
import { hash, verify } from '@node-rs/argon2';
import type { Context, Next } from 'koa';
import { Op } from 'sequelize';
import { note } from '../audit/note.ts';
import { Session, TokenRow, User } from '../db/models.ts';
import { HttpProblem } from '../http/problem.ts';
import { bind, type Route } from '../http/route.ts';
import { checkAttempts, noteFailure, noteSuccess } from './attempts.ts';

const cookie = 'basitax_session';
const days = 30;

/** Argon2id with the library's settings: 19 MiB, two passes, as OWASP advises. */
export function hashPassword(password: string): Promise<string> {
  return hash(password, { memoryCost: 19456, timeCost: 2, parallelism: 1 });
}

const personOf = (user: User): Person =>
  personSchema.parse({ id: user.id, login: user.login, name: user.name, role: user.role satisfies Role });

export const hashOf = (token: string): string => createHash('sha256').update(token).digest('hex');

/**
 * Finds out who is asking, from the cookie, or from a personal token. Pages and routes decide what that person may do.
 */
export function whoAsks() {
  return async (ctx: Context, next: Next): Promise<void> => {
    // the pages themselves are the same for all, and come without the database too
    if (!ctx.path.startsWith('/api/')) return next();
    const bearer = /^Bearer (\S+)$/.exec(ctx.get('Authorization'))?.[1];
    if (bearer !== undefined) {
      const person = await ownerOf(ctx, bearer);
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
      if (user) {
        ctx.state.person = personOf(user);
        ctx.state.session = session.id;
        await noteUse(ctx, session.seenAt, () => session.update({ seenAt: new Date(), address: addressOf(ctx) }));
      }
    }
    await next();
  };
}

/**
 * Once a minute is often enough to see whether something is still in use; whoever only reads may do so where there is
 * no room to note it.
 */
async function noteUse(ctx: Context, last: Date | null, act: () => Promise<unknown>): Promise<void> {
  if (!last || Date.now() - last.getTime() > 60_000)
    await act().catch((error: unknown) => ctx.app.emit('error', error, ctx));
}

/** The person that a token acts for, with the lesser of both roles. */
async function ownerOf(ctx: Context, token: string): Promise<Person | undefined> {
  const row = await TokenRow.findOne({ where: { hash: hashOf(token), expiresAt: { [Op.gt]: new Date() } } });
  const user = row && (await User.findByPk(row.userId));
  if (!row || !user) return undefined;
  await noteUse(ctx, row.usedAt, () => row.update({ usedAt: new Date() }));
  const person = personOf(user);
  return mayAct(person.role, row.role) ? { ...person, role: row.role } : person;
}

/** Refuses what another site's page sends: the browser says where a request comes from. */
export function sameOrigin() {
  return async (ctx: Context, next: Next): Promise<void> => {
    const origin = ctx.get('Origin');
    if (
      origin &&
      ctx.method !== 'GET' &&
      ctx.method !== 'HEAD' &&
      !(URL.canParse(origin) && new URL(origin).host === ctx.host)
    ) {
      throw new HttpProblem(403, 'Not allowed', `A page of ${origin} may not change anything here.`);
    }
    await next();
  };
}

const addressOf = (ctx: Context): string => ctx.ip.slice(0, 64);

/** Signs a person in: a session in the database, and a cookie that scripts cannot read. */
export async function openSession(ctx: Context, user: User): Promise<Person> {
  const token = randomBytes(32).toString('hex');
  const expiresAt = new Date(Date.now() + days * 86_400_000);
  const browser = ctx.get('User-Agent').slice(0, 300);
  await Session.create({
    id: hashOf(token),
    userId: user.id,
    expiresAt,
    browser,
    address: addressOf(ctx),
    seenAt: new Date(),
  });
  await Session.destroy({ where: { expiresAt: { [Op.lt]: new Date() } } });
  ctx.cookies.set(cookie, token, {
    httpOnly: true,
    sameSite: 'lax',
    secure: ctx.secure,
    expires: expiresAt,
    overwrite: true,
  });
  await note({ person: user.name, act: 'Signs in', address: addressOf(ctx) });
  return personOf(user);
}

export function sessionRoutes(): Route[] {
  return bind(sessionApi, {
    async signIn({ body, ctx }) {
      const address = addressOf(ctx);
      await checkAttempts(body.login, address);
      const user = await User.findOne({ where: { login: body.login } });
      // an unknown login costs as much as a wrong password, so that the two cannot be told apart
      const stored =
        user?.passwordHash ??
        '$argon2id$v=19$m=19456,t=2,p=1$AAAAAAAAAAAAAAAAAAAAAA$AAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAA';
      const right = await verify(stored, body.password).catch(() => false);
      if (!user || !right) {
        await noteFailure(body.login, address);
        throw new HttpProblem(401, 'Not signed in', 'Login and password do not go together.');
      }
      await noteSuccess(body.login, address);
      return openSession(ctx, user);
    },
    async who({ ctx }) {
      return { person: (ctx.state.person as Person | undefined) ?? null };
    },
    async signOut({ ctx }) {
      const token = ctx.cookies.get(cookie);
      if (token) await Session.destroy({ where: { id: hashOf(token) } });
      ctx.cookies.set(cookie, null, { httpOnly: true, sameSite: 'lax', secure: ctx.secure });
      return undefined;
    },
  });
}
