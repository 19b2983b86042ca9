import { type Person, peopleApi } from '@basitax/api/people';
import { mayAct } from '@basitax/api/roles';
import type { Context } from 'koa';
import { openSession } from '../auth/session.ts';
import { InvitationRow } from '../db/team-models.ts';
import { HttpProblem } from '../http/problem.ts';
import { bind, type Route, say } from '../http/route.ts';
import {
  changeMember,
  changePassword,
  endSession,
  invitations,
  invite,
  makeService,
  members,
  openSessions,
  removeMember,
  takeInvitation,
} from './people.ts';

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
  return bind(peopleApi, {
    list: async () => ({ people: await members() }),
    async change({ params, body, person, ctx }) {
      inPerson(ctx);
      if (body.role !== person.role) notOneself(person, params.id, 'change the role of');
      say(ctx, { target: body.name, detail: await changeMember(params.id, body) });
      return undefined;
    },
    async remove({ params, person, ctx }) {
      inPerson(ctx);
      notOneself(person, params.id, 'remove');
      say(ctx, { target: await removeMember(params.id) });
      return undefined;
    },
    async service({ body, ctx }) {
      inPerson(ctx);
      say(ctx, { target: body.name, detail: `as ${body.role}` });
      return makeService(body);
    },
    invitations: async () => ({ invitations: await invitations() }),
    async invite({ body, person, ctx }) {
      inPerson(ctx);
      const made = await invite(body, person);
      say(ctx, { target: body.name, detail: `as ${body.role}, for ${body.days} days` });
      return made;
    },
    async withdraw({ params, ctx }) {
      const row = await InvitationRow.findByPk(params.id);
      if (!row) throw new HttpProblem(404, 'Not found', 'There is no such invitation; it may have been taken.');
      await row.destroy();
      say(ctx, { target: row.name });
      return undefined;
    },
    async accept({ body, ctx }) {
      return openSession(ctx, await takeInvitation(body));
    },
    async sessions({ query, person, ctx }) {
      if (query.all === 'yes' && !mayAct(person.role, 'lead'))
        throw new HttpProblem(
          403,
          'Not allowed',
          `You need the role lead to see everybody’s sessions; your role is ${person.role}.`,
        );
      return { sessions: await openSessions({ person, own: own(ctx) }, query.all === 'yes') };
    },
    async endSession({ params, person, ctx }) {
      inPerson(ctx);
      say(ctx, { target: await endSession(params.id, person, mayAct(person.role, 'lead')) });
      return undefined;
    },
    async changePassword({ body, person, ctx }) {
      inPerson(ctx);
      await changePassword(person, body, own(ctx));
      return undefined;
    },
  });
}
