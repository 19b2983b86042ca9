import { randomBytes } from 'node:crypto';
import { mayAct } from '@basitax/api/roles';
import { type Token, tokensApi } from '@basitax/api/tokens';
import { hashOf } from '../auth/session.ts';
import { TokenRow } from '../db/models.ts';
import { HttpProblem } from '../http/problem.ts';
import { bind, type Route } from '../http/route.ts';
import { inPerson } from '../people/routes.ts';

const day = 86_400_000;
const told = ({ id, title, role, expiresAt, usedAt, createdAt }: TokenRow): Token => ({
  ...{ id, title, role, expiresAt: expiresAt.toISOString(), usedAt: usedAt?.toISOString() ?? null },
  createdAt: createdAt.toISOString(),
});

/** Personal tokens for pipelines: each person makes and takes back his or her own, signed in and not by a token. */
export function tokenRoutes(): Route[] {
  return bind(tokensApi, {
    async list({ person }) {
      const rows = await TokenRow.findAll({ where: { userId: person.id }, order: [['createdAt', 'DESC']] });
      return { tokens: rows.map(told) };
    },
    async make({ body, person, ctx }) {
      inPerson(ctx);
      if (!mayAct(person.role, body.role))
        throw new HttpProblem(422, 'Refused', `You are ${person.role}: a token cannot be ${body.role}.`);
      const token = `bx_${randomBytes(32).toString('hex')}`;
      const id = randomBytes(8).toString('hex');
      const expiresAt = new Date(Date.now() + body.days * day);
      const row = await TokenRow.create({
        id,
        hash: hashOf(token),
        userId: person.id,
        title: body.title,
        role: body.role,
        expiresAt,
        usedAt: null,
      });
      return { ...told(row), token };
    },
    async revoke({ params, person, ctx }) {
      inPerson(ctx);
      const count = await TokenRow.destroy({ where: { id: params.id, userId: person.id } });
      if (count === 0) throw new HttpProblem(404, 'Not found', 'There is no such token of yours.');
      return undefined;
    },
  });
}
