import { randomBytes } from 'node:crypto';
import type { Invitation, Member, OpenSession, Person } from '@basitax/api/people';
import type { Role } from '@basitax/api/roles';
import { must } from '@basitax/core/must';
import { col, fn, Op, type Transaction } from 'sequelize';
import { hashPassword, verifyPassword } from '../auth/hashing.ts';
import { checkPassword } from '../auth/passwords.ts';
import { hashOf } from '../auth/session.ts';
import { KnownBrowserRow, Session, TokenRow, User } from '../db/models.ts';
import { InvitationRow } from '../db/team-models.ts';
import { HttpProblem } from '../http/problem.ts';

const day = 86_400_000;

/** Everybody of the team, by name, with when each was there last. */
export async function members(): Promise<Member[]> {
  const users = await User.findAll({ order: [['name', 'ASC']] });
  const seen = (await Session.findAll({
    attributes: ['userId', [fn('MAX', col('seen_at')), 'seenAt']],
    group: ['user_id'],
    raw: true,
  })) as unknown as {
    userId: string;
    seenAt: Date | null;
  }[];
  const last = new Map(seen.map((row) => [row.userId, row.seenAt]));
  return users.map((user) => told(user, last.get(user.id)));
}

const told = ({ id, login, name, role, isService, createdAt }: User, seen?: Date | null): Member => ({
  ...{ id, login, name, role, service: isService },
  ...{ createdAt: createdAt.toISOString(), seenAt: seen?.toISOString() ?? null },
});

/** Makes an account for programs: without a password, so that nobody signs in with it. */
export async function makeService({ name, role }: { name: string; role: Role }): Promise<Member> {
  const id = randomBytes(8).toString('hex');
  const service = { id, login: `service-${id}`, name, role, passwordHash: '', isService: true };
  return told(await User.create(service));
}

async function member(id: string, transaction: Transaction): Promise<User> {
  const user = await User.findByPk(id, { transaction, lock: transaction.LOCK.UPDATE });
  if (!user) throw new HttpProblem(404, 'Not found', 'There is no such person in the team.');
  return user;
}

/** Throws where a person is the last lead: somebody has to be able to let others in. */
async function notTheLastLead(user: User, transaction: Transaction): Promise<void> {
  if (user.role !== 'lead') return;
  const leads = await User.findAll({
    attributes: ['id'],
    where: { role: 'lead' },
    transaction,
    lock: transaction.LOCK.UPDATE,
  });
  if (leads.length < 2)
    throw new HttpProblem(422, 'Refused', `${user.name} is the only lead; make somebody else lead first.`);
}

/** Gives a person another name or role; the role counts from the next request on. */
export async function changeMember(id: string, wanted: { name: string; role: Role }): Promise<string> {
  return must(User.sequelize).transaction(async (transaction) => {
    const user = await member(id, transaction);
    if (wanted.role !== 'lead') await notTheLastLead(user, transaction);
    const said = [
      user.name !== wanted.name && `${user.name} is called ${wanted.name}`,
      user.role !== wanted.role && `${wanted.name}: ${user.role} to ${wanted.role}`,
    ];
    await user.update(wanted, { transaction });
    return said.filter(Boolean).join('; ');
  });
}

/** Takes a person out of the team: sessions, tokens and settings go along, what was done under the name stays. */
export async function removeMember(id: string): Promise<string> {
  return must(User.sequelize).transaction(async (transaction) => {
    const user = await member(id, transaction);
    await notTheLastLead(user, transaction);
    await user.destroy({ transaction });
    return `${user.name}, ${user.role}`;
  });
}

const toldInvitation = ({ id, name, role, by, expiresAt, createdAt }: InvitationRow): Invitation => ({
  ...{ id, name, role, by, expiresAt: expiresAt.toISOString(), createdAt: createdAt.toISOString() },
});

/** Invitations that can still be taken. */
export async function invitations(): Promise<Invitation[]> {
  return (
    await InvitationRow.findAll({ where: { expiresAt: { [Op.gt]: new Date() } }, order: [['createdAt', 'DESC']] })
  ).map(toldInvitation);
}

/** Makes an invitation; its token is told this once. */
export async function invite(
  { name, role, days }: { name: string; role: Role; days: number },
  by: Person,
): Promise<Invitation & { token: string }> {
  const token = randomBytes(24).toString('hex');
  const row = await InvitationRow.create({
    id: randomBytes(8).toString('hex'),
    hash: hashOf(token),
    name,
    role,
    by: by.name,
    expiresAt: new Date(Date.now() + days * day),
  });
  return { ...toldInvitation(row), token };
}

/** Takes an invitation: a person with a login and password of their own. Each can be taken once. */
export async function takeInvitation({
  token,
  login,
  password,
}: {
  token: string;
  login: string;
  password: string;
}): Promise<User> {
  const wanted = { hash: hashOf(token), expiresAt: { [Op.gt]: new Date() } };
  const missing = (): HttpProblem =>
    new HttpProblem(
      404,
      'Not found',
      'This invitation has been used or withdrawn, or is too old. Ask a lead for a new one.',
    );
  // hashing a password is dear: nobody gets it done without an invitation
  if ((await InvitationRow.count({ where: wanted })) === 0) throw missing();
  checkPassword(password, login);
  const passwordHash = await hashPassword(password);
  return must(User.sequelize).transaction(async (transaction) => {
    const row = await InvitationRow.findOne({ where: wanted, transaction, lock: transaction.LOCK.UPDATE });
    if (!row) throw missing();
    if (await User.findOne({ where: { login }, transaction }))
      throw new HttpProblem(422, 'Refused', `Somebody has the login “${login}” already; take another one.`);
    await row.destroy({ transaction });
    return User.create(
      { id: randomBytes(8).toString('hex'), login, name: row.name, role: row.role, passwordHash },
      { transaction },
    );
  });
}

/** Sessions are told by the beginning of what is stored, which is enough to know one from the other and to end it. */
const shown = 24;

/** Open sessions: one's own, or everybody's. The latest used first. */
export async function openSessions(
  of: { person: Person; own?: string | undefined },
  all: boolean,
): Promise<OpenSession[]> {
  const rows = await Session.findAll({
    where: { expiresAt: { [Op.gt]: new Date() }, ...(!all && { userId: of.person.id }) },
    order: [['seenAt', 'DESC']],
  });
  const users = new Map((await User.findAll({ attributes: ['id', 'name', 'login'] })).map((user) => [user.id, user]));
  return rows.flatMap((row) => {
    const user = users.get(row.userId);
    const seenAt = (row.seenAt ?? row.createdAt).toISOString();
    if (!user) return [];
    return [
      {
        id: row.id.slice(0, shown),
        person: user.name,
        login: user.login,
        browser: row.browser,
        address: row.address,
        createdAt: row.createdAt.toISOString(),
        seenAt,
        own: row.id === of.own,
      },
    ];
  });
}

/** Ends a session: one's own, or for a lead anybody's. */
export async function endSession(id: string, of: Person, all: boolean): Promise<string> {
  const row = await Session.findOne({ where: { id: { [Op.startsWith]: id }, ...(!all && { userId: of.id }) } });
  if (!row) throw new HttpProblem(404, 'Not found', 'There is no such session; it may have ended.');
  const user = await User.findByPk(row.userId);
  await row.destroy();
  return user?.name ?? '';
}

/** Gives oneself another password; all other sessions and all personal tokens end. */
export async function changePassword(
  person: Person,
  wanted: { old: string; password: string },
  session: string | undefined,
): Promise<void> {
  const user = await User.findByPk(person.id);
  if (!user || !(await verifyPassword(user.passwordHash, wanted.old)))
    throw new HttpProblem(422, 'Refused', 'The old password is not right.');
  checkPassword(wanted.password, user.login);
  await user.update({ passwordHash: await hashPassword(wanted.password) });
  // whoever may have learnt the old one is out, by whatever way
  await Session.destroy({ where: { userId: person.id, ...(session && { id: { [Op.ne]: session } }) } });
  await TokenRow.destroy({ where: { userId: person.id } });
  await KnownBrowserRow.destroy({ where: { userId: person.id } });
}
