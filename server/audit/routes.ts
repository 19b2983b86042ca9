import { Op, type WhereOptions } from 'sequelize';
import { z } from 'zod';
import { literally } from '../db/like.ts';
import { AuditRow } from '../db/team-models.ts';
import { type Route, route } from '../http/route.ts';
import { type AuditRecord, recordQuerySchema, recordSchema } from '../team-api.ts';

const told = (row: AuditRow): AuditRecord => {
  const { id, at, person, byToken, act, target, detail, address } = row;
  return { id: Number(id), at: at.toISOString(), person, byToken, act, target, detail, address };
};

const page = 200;

/** The record of what was done: for leads, the latest first, a page at a time. */
export function auditRoutes(): Route[] {
  return [
    route({
      method: 'get',
      path: '/api/audit',
      about: 'What was done, the latest first',
      role: 'lead',
      query: recordQuerySchema,
      answer: z.object({ records: z.array(recordSchema), more: z.boolean() }),
      async handle({ query: { before, person, text } }) {
        const like = { [Op.like]: `%${literally(text ?? '')}%` };
        const where: WhereOptions = {
          ...(before !== undefined && { id: { [Op.lt]: before } }),
          ...(person && { person }),
          ...(text && { [Op.or]: [{ act: like }, { target: like }, { detail: like }] }),
        };
        const rows = await AuditRow.findAll({ where, order: [['id', 'DESC']], limit: page + 1 });
        return { records: rows.slice(0, page).map(told), more: rows.length > page };
      },
    }),
  ];
}
