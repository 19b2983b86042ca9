import { randomBytes } from 'node:crypto';
import type { BatchRun } from '@basitax/api/batches';
import type { Person } from '@basitax/api/people';
import { mayAct } from '@basitax/api/roles';
import { type Schedule, schedulesApi } from '@basitax/api/schedules';
import { recipeProblem } from '@basitax/core/batch/check';
import { fileAimSchema, recipeSchema } from '@basitax/core/batch/recipe';
import { Cron } from 'croner';
import { Op, QueryTypes, type Sequelize } from 'sequelize';
import type { z } from 'zod';
import { personOf } from '../auth/session.ts';
import { BatchRunRow, ScheduleRow } from '../db/batch-models.ts';
import { User } from '../db/models.ts';
import { retried } from '../db/retry.ts';
import { happened, notify } from '../events/record.ts';
import { asProblem, HttpProblem } from '../http/problem.ts';
import { bind, type Route, say as record } from '../http/route.ts';
import type { Batches } from './batches.ts';
import type { KeptReports } from './kept-reports.ts';
import { settleAll } from './phases.ts';
import { say } from './sentences.ts';

type Wanted = z.output<(typeof schedulesApi)['make']['body']>;

/** When a schedule is due next after a moment: by the clock of its time zone, over the changes of summer time. */
export function nextTime({ days, at, zone }: Pick<Schedule, 'days' | 'at' | 'zone'>, after: Date): Date | null {
  const [hour, minute] = at.split(':').map(Number);
  return new Cron(`${minute} ${hour} * * ${days.join(',')}`, { timezone: zone }).nextRun(after);
}

const told = (row: ScheduleRow): Schedule => ({
  ...{ id: row.id, title: row.title, author: row.author, at: row.at, zone: row.zone, why: row.why },
  ...{ applies: row.applies, keepsReports: row.keepsReports, active: row.active, lastRun: row.lastRun },
  recipe: recipeSchema.parse(JSON.parse(row.recipe)),
  files: fileAimSchema.parse(JSON.parse(row.files)),
  days: row.days.split(',').map(Number),
  nextAt: row.active ? (row.nextAt?.toISOString() ?? null) : null,
});

/** Batch runs that start by themselves. Each server looks; a run is started by one of them. */
export class Schedules {
  private readonly sequelize: Sequelize;
  private readonly batches: Batches;
  private readonly reports: KeptReports;

  constructor(sequelize: Sequelize, batches: Batches, reports: KeptReports) {
    this.sequelize = sequelize;
    this.batches = batches;
    this.reports = reports;
  }

  async list(): Promise<Schedule[]> {
    return (await ScheduleRow.findAll({ order: [['title', 'ASC']] })).map(told);
  }

  async make(wanted: Wanted, person: Person): Promise<Schedule> {
    const fields = await this.checked(wanted, person);
    const about = { id: randomBytes(8).toString('hex'), author: person.name, authorId: person.id };
    return told(await ScheduleRow.create({ ...about, ...fields, why: '', lastRun: null }));
  }

  async change(id: string, wanted: Wanted, person: Person): Promise<Schedule> {
    const row = await this.own(id, person);
    return told(await row.update({ ...(await this.checked(wanted, person)), why: '' }));
  }

  async remove(id: string, person: Person): Promise<string> {
    const row = await this.own(id, person);
    await row.destroy();
    return row.title;
  }

  /** Starts a run now, in the name of whoever made the schedule. */
  async run(id: string, person: Person): Promise<BatchRun> {
    const row = await this.own(id, person);
    const run = await this.start(row);
    return this.batches.run(run, person);
  }

  private async checked(wanted: Wanted, person: Person) {
    const problem = recipeProblem(wanted.recipe);
    if (problem) throw new HttpProblem(422, 'The recipe cannot be run', problem.message);
    // scripts of the library and queries over files are read now, so that a slip is told to whoever makes it
    await this.batches.resolved(wanted.recipe, person);
    await this.batches.aimed(wanted.files, person);
    const { title, days, at, zone, applies, keepsReports, active } = wanted;
    return {
      ...{ title, at, zone, applies, keepsReports, active, days: days.join(',') },
      ...{ recipe: JSON.stringify(wanted.recipe), files: JSON.stringify(wanted.files) },
      nextAt: nextTime(wanted, new Date()),
    };
  }

  /** A schedule that a person may decide on: one's own, or for a lead any. */
  private async own(id: string, person: Person): Promise<ScheduleRow> {
    const row = await ScheduleRow.findByPk(id);
    if (!row) throw new HttpProblem(404, 'Not found', 'There is no such schedule. It may have been removed.');
    if (row.authorId === person.id || mayAct(person.role, 'lead')) return row;
    throw new HttpProblem(403, 'Not allowed', `${row.author} made this schedule; that person or a lead may do this.`);
  }

  /** Starts what is due, settles runs whose last worker ended before it could, and goes on with planned runs that schedules started. */
  async work(): Promise<void> {
    for (;;) {
      const due = await this.due();
      if (!due) break;
      await this.start(due).catch(async (error: unknown) => {
        const problem = asProblem(error);
        if (!problem || problem.status >= 500) throw error;
        await this.failed(due, problem.message);
      });
    }
    await settleAll(this.sequelize);
    await this.goOn();
  }

  /** Takes a schedule that is due, and says when it is due again, so that no other server starts it too. */
  private due(): Promise<ScheduleRow | undefined> {
    return retried(() =>
      this.sequelize.transaction(async (transaction) => {
        const [found] = await this.sequelize.query<{ id: string; now: Date }>(
          'SELECT id, NOW(3) AS now FROM batch_schedules WHERE active AND next_at <= NOW(3) ORDER BY next_at LIMIT 1 FOR UPDATE SKIP LOCKED',
          { type: QueryTypes.SELECT, transaction },
        );
        const row = found && (await ScheduleRow.findByPk(found.id, { transaction }));
        if (!row) return undefined;
        // what was missed while no server ran is done once
        const next = nextTime(told(row), new Date(Math.max(Date.now(), row.nextAt?.getTime() ?? 0)));
        return row.update({ nextAt: next }, { transaction });
      }),
    );
  }

  private async start(row: ScheduleRow): Promise<string> {
    const user = await User.findByPk(row.authorId);
    if (!user || !mayAct(user.role, 'editor')) {
      await row.update({ active: false });
      throw new HttpProblem(422, 'Refused', say('author-gone', { author: row.author }).message);
    }
    const goesOn = [...(row.keepsReports ? ['keep'] : []), ...(row.applies ? ['apply'] : [])].join(',');
    const { title, recipe, files } = told(row);
    const run = await this.batches.start(
      { title, recipe, files, ...(row.lastRun !== null && { repeats: row.lastRun }) },
      personOf(user),
      { scheduleId: row.id, goesOn },
    );
    await row.update({ lastRun: run.id, why: '' });
    return run.id;
  }

  private async failed(row: ScheduleRow, why: string): Promise<void> {
    await this.sequelize.transaction(async (transaction) => {
      await ScheduleRow.update({ why: why.slice(0, 500) }, { where: { id: row.id }, transaction });
      const about = { person: row.author, title: row.title, schedule: row.id, message: why };
      await happened('schedule.failed', about, transaction);
      await notify(row.authorId, `“${row.title}” could not start: ${why}`, '/batches', transaction);
    });
  }

  /** Keeps reports and applies, where schedules ask for it, as soon as a run is planned. */
  private async goOn(): Promise<void> {
    const rows = await BatchRunRow.findAll({ where: { phase: { [Op.ne]: 'planning' }, goesOn: { [Op.ne]: '' } } });
    for (const row of rows) {
      const { id, goesOn } = row;
      // one server does it; should it end meanwhile, the run waits for review like any other
      const [taken] = await BatchRunRow.update({ goesOn: '' }, { where: { id, goesOn } });
      const user = await User.findByPk(row.authorId);
      if (taken === 0 || !user) continue;
      const person = personOf(user);
      const wanted = goesOn.split(',');
      if (wanted.includes('keep')) await this.reports.keepAll(id, person);
      // somebody may have decided on it already
      if (!wanted.includes('apply') || row.phase !== 'review' || !mayAct(person.role, 'editor')) continue;
      const { counts } = await this.batches.accept(id, true, person);
      if (counts.planned) await this.batches.apply(id, row.title, person);
    }
  }
}

export function scheduleRoutes(schedules: Schedules): Route[] {
  return bind(schedulesApi, {
    list: async () => ({ schedules: await schedules.list() }),
    make: ({ body, person }) => schedules.make(body, person),
    change: ({ params, body, person }) => schedules.change(params.id, body, person),
    async remove({ params, person, ctx }) {
      record(ctx, { target: `“${await schedules.remove(params.id, person)}”` });
      return undefined;
    },
    run: ({ params, person }) => schedules.run(params.id, person),
  });
}
