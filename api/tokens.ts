import { z } from 'zod';
import { contract } from './contract.ts';
import { fileIdSchema } from './places.ts';
import { roleSchema } from './roles.ts';

/** A personal token, as its owner sees it in the list. */
export const tokenSchema = z.object({
  id: z.string(),
  title: z.string(),
  role: roleSchema,
  projects: z.array(z.string()).nullable().describe('The projects that it is bound to; null: all.'),
  expiresAt: z.string(),
  usedAt: z.string().nullable(),
  createdAt: z.string(),
});
export type Token = z.infer<typeof tokenSchema>;

export const tokenMakeSchema = z.object({
  title: z.string().trim().min(1, 'Title it.').max(200),
  role: roleSchema,
  days: z.int().min(1).max(730).default(90),
  projects: z.array(fileIdSchema).min(1).max(200).optional().describe('Bound to these projects; to none where absent.'),
  service: z.string().max(32).optional().describe('For this account for programs: needs the role lead.'),
});

/** The token itself is told once, when it is made. */
export const tokenMadeSchema = tokenSchema.extend({ token: z.string() });

/** Personal tokens for pipelines: each person makes and revokes their own, signed in and not by a token. */
export const tokensApi = {
  list: contract({
    method: 'get',
    path: '/api/tokens',
    about: 'Your tokens',
    role: 'viewer',
    query: z.object({ service: z.string().max(32).optional().describe('Those of an account for programs.') }),
    answer: z.object({ tokens: z.array(tokenSchema) }),
    problems: [404],
  }),
  make: contract({
    method: 'post',
    path: '/api/tokens',
    about: 'Makes a token, which is shown this once',
    role: 'viewer',
    body: tokenMakeSchema,
    answer: tokenMadeSchema,
    status: 201,
    problems: [404, 422],
  }),
  revoke: contract({
    method: 'delete',
    path: '/api/tokens/:id',
    about: 'Revokes a token',
    role: 'viewer',
    params: z.object({ id: z.string().max(32) }),
  }),
};
