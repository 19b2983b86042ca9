import { z } from 'zod';
import { contract } from './contract.ts';
import { roleSchema } from './roles.ts';
import { titleSchema } from './words.ts';

export const personSchema = z.object({
  ...{ id: z.string(), login: z.string(), name: z.string(), role: roleSchema },
  projects: z.array(z.string()).optional().describe('Tokens: the projects that it is bound to.'),
});
export type Person = z.infer<typeof personSchema>;

export const signInSchema = z.object({
  login: z.string().trim().min(1).max(100),
  password: z.string().min(1).max(200),
});

export const memberSchema = personSchema.omit({ projects: true }).extend({
  ...{ createdAt: z.string(), seenAt: z.string().nullable() },
  service: z.boolean().describe('An account for programs: it has tokens, and nobody signs in with it.'),
});
export type Member = z.infer<typeof memberSchema>;

export const memberChangeSchema = z.object({ name: titleSchema.max(100), role: roleSchema });

const password = z.string().min(12, 'takes twelve characters or more').max(200);

export const inviteSchema = z.object({
  name: titleSchema.max(100),
  role: roleSchema,
  days: z.int().min(1).max(30).default(7),
});

export const invitationSchema = z.object({
  id: z.string(),
  name: z.string(),
  role: roleSchema,
  by: z.string(),
  expiresAt: z.string(),
  createdAt: z.string(),
});
export type Invitation = z.infer<typeof invitationSchema>;

/** The token is part of the link that is handed on; it is told once. */
export const invitedSchema = invitationSchema.extend({ token: z.string() });

export const welcomeSchema = z.object({
  token: z.string().max(100),
  login: z
    .string()
    .trim()
    .regex(/^[a-z0-9._-]{2,60}$/, 'takes two small letters or digits at least, with . _ -'),
  password,
});

export const passwordChangeSchema = z.object({ old: z.string().max(200), password });

export const openSessionSchema = z.object({
  id: z.string(),
  person: z.string(),
  login: z.string(),
  /** What the browser calls itself, and where it was last asked from. */
  browser: z.string(),
  address: z.string(),
  createdAt: z.string(),
  seenAt: z.string(),
  own: z.boolean(),
});
export type OpenSession = z.infer<typeof openSessionSchema>;

/** Signing in and out. */
export const sessionApi = {
  signIn: contract({
    method: 'post',
    path: '/api/session',
    about: 'Signs in',
    most: 4096,
    body: signInSchema,
    answer: personSchema,
    headers: { 'Set-Cookie': 'The session, in a cookie that scripts cannot read.' },
    problems: [401, 429],
  }),
  who: contract({
    method: 'get',
    path: '/api/session',
    about: 'Who is signed in',
    answer: z.object({ person: personSchema.nullable() }),
    problems: [401],
  }),
  signOut: contract({ method: 'delete', path: '/api/session', about: 'Signs out' }),
};

const one = z.object({ id: z.string().regex(/^[a-zA-Z0-9_-]{1,64}$/, 'does not name anybody') });

/** The team: its people, invitations, open sessions. Personal tokens are refused where somebody has to be signed in. */
export const peopleApi = {
  list: contract({
    method: 'get',
    path: '/api/people',
    about: 'Everybody in the team',
    role: 'lead',
    answer: z.object({ people: z.array(memberSchema) }),
  }),
  change: contract({
    method: 'put',
    path: '/api/people/:id',
    about: 'Changes a person’s name or role',
    role: 'lead',
    params: one,
    body: memberChangeSchema,
    problems: [422],
  }),
  remove: contract({
    method: 'delete',
    path: '/api/people/:id',
    about: 'Takes a person out of the team',
    role: 'lead',
    params: one,
    problems: [422],
  }),
  service: contract({
    method: 'post',
    path: '/api/people/services',
    about: 'Makes an account for programs, which has tokens and no password',
    role: 'lead',
    body: z.object({ name: titleSchema.max(60), role: z.enum(['viewer', 'editor']) }),
    answer: memberSchema,
    status: 201,
    problems: [422],
  }),
  invitations: contract({
    method: 'get',
    path: '/api/invitations',
    about: 'Open invitations',
    role: 'lead',
    answer: z.object({ invitations: z.array(invitationSchema) }),
  }),
  invite: contract({
    method: 'post',
    path: '/api/invitations',
    about: 'Invites somebody',
    role: 'lead',
    body: inviteSchema,
    answer: invitedSchema,
    status: 201,
  }),
  withdraw: contract({
    method: 'delete',
    path: '/api/invitations/:id',
    about: 'Withdraws an invitation',
    role: 'lead',
    params: one,
  }),
  accept: contract({
    method: 'post',
    path: '/api/invitations/take',
    about: 'Accepts an invitation, and signs in',
    most: 4096,
    body: welcomeSchema,
    answer: personSchema,
    problems: [404, 422],
  }),
  sessions: contract({
    method: 'get',
    path: '/api/sessions',
    about: 'Open sessions: your own, or everybody’s for a lead',
    role: 'viewer',
    query: z.object({ all: z.enum(['yes', 'no']).default('no') }),
    answer: z.object({ sessions: z.array(openSessionSchema) }),
  }),
  endSession: contract({
    method: 'delete',
    path: '/api/sessions/:id',
    about: 'Ends a session',
    role: 'viewer',
    params: z.object({ id: z.string().regex(/^[a-f0-9]{24}$/, 'does not name a session') }),
  }),
  changePassword: contract({
    method: 'put',
    path: '/api/password',
    about: 'Changes your password',
    most: 4096,
    role: 'viewer',
    body: passwordChangeSchema,
    problems: [422],
  }),
};
