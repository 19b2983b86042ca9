import { randomBytes } from 'node:crypto';
import type { Person } from '@basitax/api/people';
import { mayAct, type Role } from '@basitax/api/roles';
import { type Token, tokensApi } from '@basitax/api/tokens';
import { hashOf } from '../auth/session.ts';
import { TokenRow, User } from '../db/models.ts';
import { HttpProblem } from '../http/problem.ts';
import { bind, type Route } from '../http/route.ts';
import { inPerson } from '../people/routes.ts';
import { reachableProject } from '../projects/access.ts';

const day = 86_400_000;
const told = ({ id, title, role, projects, expiresAt, usedAt, createdAt }: TokenRow): Token => ({
  projects: projects === null ? null : (JSON.parse(projects) as string[]),
  ...{ id, title, role, expiresAt: expiresAt.toISOString(), usedAt: usedAt?.toISOString() ?? null },
  createdAt: createdAt.toISOString(),
});

/** Whose tokens are meant: one's own, or for a lead those of an account for programs. */
async function ownerOf(person: Person, service: string | undefined): Promise<{ id: string; role: Role; name: string }> {
  if (service === undefined) return person;
  if (!mayAct(person.role, 'lead'))
    throw new HttpProblem(
      403,
      'Not allowed',
      `You need the role lead for accounts for programs; your role is ${person.role}.`,
    );
  const user = await User.findOne({ where: { id: service, isService: true } });
  if (!user) throw new HttpProblem(404, 'Not found', 'There is no such account for programs.');
  return user;
}

/** Personal tokens for pipelines: each person makes and takes back his or her own, signed in and not by a token. */
export function tokenRoutes(): Route[] {
  return bind(tokensApi, {
    async list({ query, person }) {
      const owner = await ownerOf(person, query.service);
      const rows = await TokenRow.findAll({ where: { userId: owner.id }, order: [['createdAt', 'DESC']] });
      return { tokens: rows.map(told) };
    },
    async make({ body, person, ctx }) {
      inPerson(ctx);
      const owner = await ownerOf(person, body.service);
      if (!mayAct(owner.role, body.role))
        throw new HttpProblem(422, 'Refused', `${owner.name} is ${owner.role}: a token cannot be ${body.role}.`);
      for (const project of body.projects ?? []) await reachableProject(person, project);
      const token = `bx_${randomBytes(32).toString('hex')}`;
      const id = randomBytes(8).toString('hex');
      const expiresAt = new Date(Date.now() + body.days * day);
      const row = await TokenRow.create({
        id,
        hash: hashOf(token),
        userId: owner.id,
        projects: body.projects ? JSON.stringify(body.projects) : null,
        title: body.title,
        role: body.role,
        expiresAt,
        usedAt: null,
      });
      return { ...told(row), token };
    },
    async revoke({ params, person, ctx }) {
      inPerson(ctx);
      const row = await TokenRow.findByPk(params.id);
      const isService = row !== null && (await User.count({ where: { id: row.userId, isService: true } })) > 0;
      const isOwn = row?.userId === person.id || (isService && mayAct(person.role, 'lead'));
      if (row && isOwn) await row.destroy();
      else throw new HttpProblem(404, 'Not found', 'There is no such token of yours.');
      return undefined;
    },
  });
}
