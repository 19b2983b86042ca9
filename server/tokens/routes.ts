import { randomBytes } from 'node:crypto';
import { z } from 'zod';
import { mayAct, type Token, tokenMadeSchema, tokenMakeSchema, tokenSchema } from '../api.ts';
import { hashOf } from '../auth/session.ts';
import { TokenRow } from '../db/models.ts';
import { HttpProblem } from '../http/problem.ts';
import { type Route, route } from '../http/route.ts';
import { inPerson } from '../people/routes.ts';

const day = 86_400_000;
const told = ({ id, title, role, expiresAt, usedAt, createdAt }: TokenRow): Token => ({
  ...{ id, title, role, expiresAt: expiresAt.toISOString(), usedAt: usedAt?.toISOString() ?? null },
  createdAt: createdAt.toISOString(),
});

/** Personal tokens for pipelines: each person makes and takes back his or her own, signed in and not by a token. */
export function tokenRoutes(): Route[] {
  return [
    route({
      method: 'get',
      path: '/api/tokens',
      role: 'viewer',
      about: 'One’s own tokens',
      answer: z.object({ tokens: z.array(tokenSchema) }),
      async handle({ person }) {
        const rows = await TokenRow.findAll({ where: { userId: person.id }, order: [['createdAt', 'DESC']] });
        return { tokens: rows.map(told) };
      },
    }),
    route({
      method: 'post',
      path: '/api/tokens',
      role: 'viewer',
      about: 'Makes a token; it is told this once',
      body: tokenMakeSchema,
      answer: tokenMadeSchema,
      async handle({ body, person, ctx }) {
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
        ctx.status = 201;
        return { ...told(row), token };
      },
    }),
    route({
      method: 'delete',
      path: '/api/tokens/:id',
      role: 'viewer',
      about: 'Takes a token back',
      params: z.object({ id: z.string().max(32) }),
      async handle({ params, person, ctx }) {
        inPerson(ctx);
        const count = await TokenRow.destroy({ where: { id: params.id, userId: person.id } });
        if (count === 0) throw new HttpProblem(404, 'Not found', 'There is no such token of yours.');
        return undefined;
      },
    }),
  ];
}
