import { healthApi } from '@basitax/api/health';
import { QueryTypes, type Sequelize } from 'sequelize';
import { bind, type Route } from '../http/route.ts';
import { closedTo, reachable, reachableProject } from '../projects/access.ts';
import { healthOf, type Measured } from './health.ts';

const sql = (
  where: string,
): string => `SELECT f.id AS file, f.title, f.project_id AS project, r.number, r.created_at AS at, r.author, r.message,
  CAST(JSON_VALUE(r.measures, '$.nodes') AS INTEGER) AS nodes, CAST(JSON_VALUE(r.measures, '$.score') AS DOUBLE) AS score,
  COALESCE(n.errors, 0) AS error, COALESCE(n.warnings, 0) AS warning, COALESCE(n.infos, 0) AS info
  FROM files f JOIN revisions r ON r.file_id = f.id LEFT JOIN revision_findings n ON n.file_id = r.file_id AND n.number = r.number
  WHERE f.trashed_at IS NULL AND ${where}
  AND NOT EXISTS (SELECT 1 FROM pending_revisions p WHERE p.file_id = r.file_id AND p.number = r.number)
  AND r.number >= COALESCE((SELECT MAX(o.number) FROM revisions o WHERE o.file_id = f.id AND o.created_at < UTC_TIMESTAMP() - INTERVAL ? DAY), 1)
  ORDER BY f.id, r.number`;

/** How readable files are over time, and what made them worse: of all that one sees, of a project, or of one file. */
export function healthRoutes(sequelize: Sequelize): Route[] {
  return bind(healthApi, {
    async get({ query: { days, project, of }, person }) {
      if (of !== undefined) await reachable(person, of);
      if (project !== undefined) await reachableProject(person, project);
      const closed = await closedTo(person);
      const where =
        of !== undefined
          ? 'f.id = ?'
          : project !== undefined
            ? 'f.project_id = ?'
            : closed.length > 0
              ? 'f.project_id NOT IN (?)'
              : '1 = 1';
      const wanted = of ?? project ?? (closed.length > 0 ? closed : undefined);
      const rows = await sequelize.query<Measured>(sql(where), {
        type: QueryTypes.SELECT,
        replacements: [...(wanted === undefined ? [] : [wanted]), days],
      });
      return healthOf(rows, days, new Date());
    },
  });
}
