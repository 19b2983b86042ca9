import { createHash, randomBytes } from 'node:crypto';
import { type Person, personSchema, sessionApi } from '@basitax/api/people';
import { mayAct, type Role } from '@basitax/api/roles';
import type { Context, Next } from 'koa';
import { Op } from 'sequelize';
import { note } from '../audit/note.ts';
import { KnownBrowserRow, Session, TokenRow, User } from '../db/models.ts';
import { HttpProblem } from '../http/problem.ts';
import { bind, type Route } from '../http/route.ts';
import { countAttempt, forgive } from './attempts.ts';
import { nobodysHash, verifyPassword } from './hashing.ts';

/** Days after which a session ends, whatever is done in it, and days without a request after which it ends. */
const days = 30;
const idleDays = 7;
/** Days for which a browser is known that was let in. */
const browserDays = 365;
const day = 86_400_000;
/** The most characters of a name that is put on record. */
const mostName = 100;

/**
 * The name of a cookie. With TLS in front browsers take it from this very host alone, for all paths and with TLS
 * (RFC 6265bis, section 4.1.3.2).
 */
const cookieName = (ctx: Context, name: 'session' | 'browser'): string =>
  ctx.state.hasTls ? `__Host-basitax_${name}` : `basitax_${name}`;

const cookieOptions = (ctx: Context) =>
  ({
    httpOnly: true,
    sameSite: 'lax',
    path: '/',
    secure: ctx.state.hasTls === true,
    overwrite: true,
  }) as const;

const tokenIn = (ctx: Context, name: 'session' | 'browser'): string | undefined => {
  const token = ctx.cookies.get(cookieName(ctx, name));
  return token && /^[a-f0-9]{64}$/.test(token) ? token : undefined;
};

/** A member of the team as routes know them. */
export const personOf = (user: User): Person =>
  personSchema.parse({ id: user.id, login: user.login, name: user.name, role: user.role satisfies Role });

export const hashOf = (token: string): string => createHash('sha256').update(token).digest('hex');

interface Asking {
  readonly person: Person;
  /** The id of the session, where it is one. */
  readonly session?: string;
  readonly lastUse: Date | null;
  noteUse(): Promise<unknown>;
}

/** Who is asking, from a personal token or from the cookie, as the database has it now. */
async function asking(ctx: Context): Promise<Asking | undefined> {
  const bearer = bearerIn(ctx);
  if (bearer !== undefined) return ownerOf(bearer);
  const token = tokenIn(ctx, 'session');
  if (!token) return undefined;
  const session = await Session.findOne({
    where: {
      id: hashOf(token),
      expiresAt: { [Op.gt]: new Date() },
      [Op.or]: [{ seenAt: null }, { seenAt: { [Op.gt]: new Date(Date.now() - idleDays * day) } }],
    },
  });
  const user = session && (await User.findByPk(session.userId));
  return user
    ? {
        person: personOf(user),
        session: session.id,
        lastUse: session.seenAt,
        noteUse: () => session.update({ seenAt: new Date(), address: addressOf(ctx) }),
      }
    : undefined;
}

const bearerIn = (ctx: Context): string | undefined => /^Bearer (\S+)$/.exec(ctx.get('Authorization'))?.[1];

/** The person of a request as the database has it now; undefined where the session or token has ended. */
export const whoIs = async (ctx: Context): Promise<Person | undefined> => (await asking(ctx))?.person;

/**
 * Finds out who is asking, from the cookie, or from a personal token. Pages and routes decide what that person may do.
 */
export function whoAsks() {
  return async (ctx: Context, next: Next): Promise<void> => {
    // the pages themselves are the same for all, and come without the database too
    if (!ctx.path.startsWith('/api/')) return next();
    const found = await asking(ctx);
    const byToken = bearerIn(ctx) !== undefined;
    if (byToken && !found)
      throw new HttpProblem(401, 'Not signed in', 'The token is wrong, has expired or was revoked.');
    if (found) {
      ctx.state.person = found.person;
      ctx.state.session = found.session;
      if (byToken) ctx.state.byToken = true;
      await noteUse(ctx, found);
    }
    await next();
  };
}

/**
 * Once a minute is often enough to see whether something is still in use; whoever only reads may do so where there is
 * no room to note it.
 */
async function noteUse(ctx: Context, { lastUse, noteUse: act }: Asking): Promise<void> {
  if (!lastUse || Date.now() - lastUse.getTime() > 60_000)
    await act().catch((error: unknown) => ctx.app.emit('error', error, ctx));
}

/** The person that a token acts for, with the lesser of both roles. */
async function ownerOf(token: string): Promise<Asking | undefined> {
  const row = await TokenRow.findOne({ where: { hash: hashOf(token), expiresAt: { [Op.gt]: new Date() } } });
  const user = row && (await User.findByPk(row.userId));
  if (!row || !user) return undefined;
  const person = personOf(user);
  const role = mayAct(person.role, row.role) ? row.role : person.role;
  // who looks at a revision sees which program made it, and for whom
  const name = `${row.title.slice(0, mostName - person.name.length - 5)} for ${person.name}`;
  const projects = row.projects === null ? {} : { projects: JSON.parse(row.projects) as string[] };
  return {
    person: { ...person, role, name, ...projects },
    lastUse: row.usedAt,
    noteUse: () => row.update({ usedAt: new Date() }),
  };
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

/**
 * Signs a person in: a session in the database, and a cookie that scripts cannot read. The browser is known from then
 * on: nobody elsewhere slows its sign-ins down.
 */
export async function openSession(ctx: Context, user: User): Promise<Person> {
  const token = randomBytes(32).toString('hex');
  const expiresAt = new Date(Date.now() + days * day);
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
  ctx.cookies.set(cookieName(ctx, 'session'), token, { ...cookieOptions(ctx), expires: expiresAt });
  if (!(await knownBrowser(ctx, user))) {
    const known = randomBytes(32).toString('hex');
    await KnownBrowserRow.create({ hash: hashOf(known), userId: user.id });
    const expires = new Date(Date.now() + browserDays * day);
    ctx.cookies.set(cookieName(ctx, 'browser'), known, { ...cookieOptions(ctx), expires });
  }
  await note({ person: user.name, act: 'Signs in', address: addressOf(ctx) });
  return personOf(user);
}

/** What the browser of a request is known by, where the person was let in with it before. */
async function knownBrowser(ctx: Context, user: User | null): Promise<string | undefined> {
  const token = tokenIn(ctx, 'browser');
  if (!token || !user) return undefined;
  const hash = hashOf(token);
  const since = new Date(Date.now() - browserDays * day);
  const row = await KnownBrowserRow.findOne({ where: { hash, userId: user.id, createdAt: { [Op.gt]: since } } });
  return row?.hash;
}

export function sessionRoutes(): Route[] {
  return bind(sessionApi, {
    async signIn({ body, ctx }) {
      const address = addressOf(ctx);
      const user = await User.findOne({ where: { login: body.login } });
      const attempt = { login: user?.login ?? body.login, address, browser: await knownBrowser(ctx, user) };
      await countAttempt(attempt);
      // an account for programs has no password
      const known = user && !user.isService ? user.passwordHash : nobodysHash;
      const right = await verifyPassword(known, body.password);
      if (!user || user.isService || !right) {
        // what was typed in place of a login may be a password: it is not put on record
        const target = user ? user.login : 'an unknown login';
        await note({ person: '', act: 'Failed to sign in', target, address });
        throw new HttpProblem(401, 'Not signed in', 'The login or the password is wrong.');
      }
      await forgive(attempt);
      return openSession(ctx, user);
    },
    async who({ ctx }) {
      return { person: (ctx.state.person as Person | undefined) ?? null };
    },
    async signOut({ ctx }) {
      const token = tokenIn(ctx, 'session');
      if (token) await Session.destroy({ where: { id: hashOf(token) } });
      ctx.cookies.set(cookieName(ctx, 'session'), null, cookieOptions(ctx));
      return undefined;
    },
  });
}
