import type { Context } from 'koa';
import { z } from 'zod';
import { mayAct, type Person, personSchema } from '../api.ts';
import { openSession } from '../auth/session.ts';
import { InvitationRow } from '../db/team-models.ts';
import { HttpProblem } from '../http/problem.ts';
import { type Route, route, say } from '../http/route.ts';
import {
  invitationSchema,
  invitedSchema,
  inviteSchema,
  memberChangeSchema,
  memberSchema,
  openSessionSchema,
  passwordChangeSchema,
  welcomeSchema,
} from '../team-api.ts';
import {
  changeMember,
  changePassword,
  endSession,
  invitations,
  invite,
  members,
  openSessions,
  removeMember,
  takeInvitation,
} from './people.ts';

const one = z.object({ id: z.string().regex(/^[a-zA-Z0-9_-]{1,64}$/, 'is none') });
const own = (ctx: Context): string | undefined => ctx.state.session as string | undefined;

/** Throws where a token asks: who is who is for people who are signed in. */
export function inPerson(ctx: Context): void {
  if (ctx.state.byToken)
    throw new HttpProblem(403, 'Not allowed', 'This takes a person who is signed in, not a token.');
}

const notOneself = (person: Person, id: string, what: string): void => {
  if (person.id === id) throw new HttpProblem(422, 'Refused', `You cannot ${what} yourself; another lead can.`);
};

/** The team: leads invite, change and remove; everybody sees and ends their own sessions. */
export function peopleRoutes(): Route[] {
  return [
    route({
      method: 'get',
      path: '/api/people',
      about: 'Everybody of the team',
      role: 'lead',
      answer: z.object({ people: z.array(memberSchema) }),
      handle: async () => ({ people: await members() }),
    }),
    route({
      method: 'put',
      path: '/api/people/:id',
      about: 'Changes a person’s name or role',
      role: 'lead',
      params: one,
      body: memberChangeSchema,
      async handle({ params, body, person, ctx }) {
        inPerson(ctx);
        if (body.role !== person.role) notOneself(person, params.id, 'change the role of');
        say(ctx, { target: body.name, detail: await changeMember(params.id, body) });
        return undefined;
      },
    }),
    route({
      method: 'delete',
      path: '/api/people/:id',
      about: 'Takes a person out of the team',
      role: 'lead',
      params: one,
      async handle({ params, person, ctx }) {
        inPerson(ctx);
        notOneself(person, params.id, 'remove');
        say(ctx, { target: await removeMember(params.id) });
        return undefined;
      },
    }),
    route({
      method: 'get',
      path: '/api/invitations',
      about: 'Invitations that are open',
      role: 'lead',
      answer: z.object({ invitations: z.array(invitationSchema) }),
      handle: async () => ({ invitations: await invitations() }),
    }),
    route({
      method: 'post',
      path: '/api/invitations',
      about: 'Invites somebody',
      role: 'lead',
      body: inviteSchema,
      answer: invitedSchema,
      async handle({ body, person, ctx }) {
        inPerson(ctx);
        const made = await invite(body, person);
        say(ctx, { target: body.name, detail: `as ${body.role}, for ${body.days} days` });
        ctx.status = 201;
        return made;
      },
    }),
    route({
      method: 'delete',
      path: '/api/invitations/:id',
      about: 'Takes an invitation back',
      role: 'lead',
      params: one,
      async handle({ params, ctx }) {
        const row = await InvitationRow.findByPk(params.id);
        if (!row) throw new HttpProblem(404, 'Not found', 'There is no such invitation; it may have been taken.');
        await row.destroy();
        say(ctx, { target: row.name });
        return undefined;
      },
    }),
    route({
      method: 'post',
      path: '/api/invitations/take',
      about: 'Takes an invitation, and signs in',
      body: welcomeSchema,
      answer: personSchema,
      async handle({ body, ctx }) {
        return openSession(ctx, await takeInvitation(body));
      },
    }),
    route({
      method: 'get',
      path: '/api/sessions',
      about: 'Open sessions: one’s own, or for a lead everybody’s',
      role: 'viewer',
      query: z.object({ all: z.enum(['yes', 'no']).default('no') }),
      answer: z.object({ sessions: z.array(openSessionSchema) }),
      async handle({ query, person, ctx }) {
        if (query.all === 'yes' && !mayAct(person.role, 'lead'))
          throw new HttpProblem(403, 'Not allowed', `Everybody’s sessions take the role lead; you are ${person.role}.`);
        return { sessions: await openSessions({ person, own: own(ctx) }, query.all === 'yes') };
      },
    }),
    route({
      method: 'delete',
      path: '/api/sessions/:id',
      about: 'Ends a session',
      role: 'viewer',
      params: z.object({ id: z.string().regex(/^[a-f0-9]{24}$/, 'is none') }),
      async handle({ params, person, ctx }) {
        inPerson(ctx);
        say(ctx, { target: await endSession(params.id, person, mayAct(person.role, 'lead')) });
        return undefined;
      },
    }),
    route({
      method: 'put',
      path: '/api/password',
      about: 'Changes one’s own password',
      role: 'viewer',
      body: passwordChangeSchema,
      async handle({ body, person, ctx }) {
        inPerson(ctx);
        await changePassword(person, body, own(ctx));
        return undefined;
      },
    }),
  ];
}
