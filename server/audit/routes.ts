import { type AuditRecord, auditApi } from '@basitax/api/audit';
import { Op, type WhereOptions } from 'sequelize';
import { literally } from '../db/like.ts';
import { AuditRow } from '../db/team-models.ts';
import { bind, type Route } from '../http/route.ts';

const told = (row: AuditRow): AuditRecord => {
  const { id, at, person, byToken, act, target, detail, address } = row;
  return { id: Number(id), at: at.toISOString(), person, byToken, act, target, detail, address };
};

const page = 200;

/** The record of what was done: for leads, the latest first, a page at a time. */
export function auditRoutes(): Route[] {
  return bind(auditApi, {
    async list({ query: { before, person, text } }) {
      const like = { [Op.like]: `%${literally(text ?? '')}%` };
      const where: WhereOptions = {
        ...(before !== undefined && { id: { [Op.lt]: before } }),
        ...(person && { person }),
        ...(text && { [Op.or]: [{ act: like }, { target: like }, { detail: like }] }),
      };
      const rows = await AuditRow.findAll({ where, order: [['id', 'DESC']], limit: page + 1 });
      return { records: rows.slice(0, page).map(told), more: rows.length > page };
    },
  });
}
