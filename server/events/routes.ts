import { eventsApi, type TeamEvent } from '@basitax/api/events';
import type { Person } from '@basitax/api/people';
import { must } from '@basitax/core/must';
import type { Context } from 'koa';
import { Op, type WhereOptions } from 'sequelize';
import { BatchItemRow } from '../db/batch-models.ts';
import { databaseNow } from '../db/clock.ts';
import { NoticeRow, TeamEventRow } from '../db/event-models.ts';
import { openEvents } from '../http/events.ts';
import { bind, type Route } from '../http/route.ts';
import { closedFiles, closedTo } from '../projects/access.ts';

/** How often the database is asked while somebody listens, in milliseconds. */
const pace = 500;
/** Transactions end in another order than they began: so long ago is asked for again, in milliseconds. */
const overlap = 5000;
const mostAtOnce = 500;
const mostNotices = 100;

const told = (row: TeamEventRow): TeamEvent => ({
  ...(JSON.parse(row.content) as Omit<TeamEvent, 'id' | 'type' | 'at'>),
  ...{ id: String(row.id), type: row.type, at: row.at.toISOString() },
});

/** What happens in the team, as it happens, and notices for each person. */
export function eventRoutes(): Route[] {
  return bind(eventsApi, {
    async watch({ query, person, ctx }) {
      const { types, project, since } = query;
      const wanted: WhereOptions = {
        ...(types && { type: types }),
        ...(project !== undefined && { projectId: project }),
      };
      const last = /^\d{1,18}$/.exec(ctx.get('Last-Event-ID'))?.[0] ?? since;
      sendEvents(ctx, person, wanted, last);
      return undefined;
    },
    async notices({ person }) {
      const rows = await NoticeRow.findAll({
        where: { userId: person.id },
        order: [['id', 'DESC']],
        limit: mostNotices,
      });
      const unseen = await NoticeRow.count({ where: { userId: person.id, seenAt: null } });
      return {
        notices: rows.map(({ id, at, text, link, seenAt }) => ({
          ...{ id: String(id), at: at.toISOString(), text, link, seen: seenAt !== null },
        })),
        unseen,
      };
    },
    async seen({ body, person }) {
      await NoticeRow.update(
        { seenAt: new Date() },
        { where: { userId: person.id, seenAt: null, ...(body.link !== undefined && { link: body.link }) } },
      );
      return undefined;
    },
  });
}

/** What a person sees of the team: asked anew each time that access is. */
class Sight {
  private person: Person;
  private closed: ReadonlySet<string> | undefined;
  private hidden: ReadonlySet<string> | undefined;

  constructor(person: Person) {
    this.person = person;
  }

  as(person: Person): void {
    this.person = person;
    this.closed = undefined;
    this.hidden = undefined;
  }

  async sees({ projectId, fileId, runId }: TeamEventRow): Promise<boolean> {
    this.closed ??= new Set(await closedTo(this.person));
    this.hidden ??= new Set(await closedFiles(this.person));
    if (projectId !== null) return !this.closed.has(projectId) && !(fileId !== null && this.hidden.has(fileId));
    if (runId === null || this.hidden.size === 0) return true;
    return (await BatchItemRow.count({ where: { runId, fileId: { [Op.notIn]: [...this.hidden] } } })) > 0;
  }
}

/**
 * Sends what happens. Transactions end in another order than they began, so what was written lately is asked for again:
 * nothing is missed, and whoever comes back may be told the last seconds twice.
 */
function sendEvents(ctx: Context, person: Person, wanted: WhereOptions, last: string | undefined): void {
  const sight = new Sight(person);
  const line = openEvents(ctx, async (now) => sight.as(now));
  const sent = new Set<string>(last === undefined ? [] : [last]);
  const tell = async (): Promise<void> => {
    const before = last === undefined ? null : await TeamEventRow.findByPk(last);
    let from = before ? new Date(before.at.getTime() - overlap) : await databaseNow(must(TeamEventRow.sequelize));
    let next = from;
    while (line.isOpen) {
      const rows = await TeamEventRow.findAll({
        where: { ...wanted, at: { [Op.gte]: from } },
        order: [
          ['at', 'ASC'],
          ['id', 'ASC'],
        ],
        limit: mostAtOnce,
      });
      for (const row of rows) {
        const id = String(row.id);
        if (sent.has(id)) continue;
        sent.add(id);
        if (await sight.sees(row)) line.send(told(row), id);
      }
      const newest = rows.at(-1)?.at;
      if (newest && newest > next) next = newest;
      const isMore = rows.length === mostAtOnce && newest !== undefined && newest > from;
      from = isMore ? newest : new Date(Math.max(from.getTime(), next.getTime() - overlap));
      if (!isMore) await new Promise((done) => setTimeout(done, pace));
    }
  };
  tell().catch(line.fail);
}
