import { z } from 'zod';
import { contract } from './contract.ts';

export const recordSchema = z.object({
  id: z.int(),
  at: z.string(),
  person: z.string(),
  /** By a personal token, not by a person who was signed in. */
  byToken: z.boolean(),
  act: z.string(),
  /** What it was done to, as far as the address says, and more where there is more to say. */
  target: z.string(),
  detail: z.string(),
  address: z.string(),
});
export type AuditRecord = z.infer<typeof recordSchema>;

export const recordQuerySchema = z.object({
  before: z.coerce.number().int().min(1).optional(),
  person: z.string().max(100).optional(),
  text: z.string().max(200).optional(),
});

/** The record of what was done. */
export const auditApi = {
  list: contract({
    method: 'get',
    path: '/api/audit',
    about: 'What was done, the latest first, a page at a time',
    role: 'lead',
    query: recordQuerySchema,
    answer: z.object({ records: z.array(recordSchema), more: z.boolean() }),
  }),
};
