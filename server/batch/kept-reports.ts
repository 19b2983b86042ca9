import { randomBytes } from 'node:crypto';
import type { Person } from '@basitax/api/people';
import { type KeptReport, reportsApi, type Totals } from '@basitax/api/reports';
import { mayAct } from '@basitax/api/roles';
import { must } from '@basitax/core/must';
import { type RunReport, reportSchema, totalsOf } from '@basitax/core/script/report';
import { Op } from 'sequelize';
import { BatchItemRow, BatchRunRow, KeptReportRow } from '../db/batch-models.ts';
import { HttpProblem } from '../http/problem.ts';
import { bind, type Route, say } from '../http/route.ts';
import { closedFiles } from '../projects/access.ts';
import type { Batches } from './batches.ts';
import type { BatchReport } from './reports.ts';

const mostListed = 500;
const mostBefore = 60;

const told = (row: KeptReportRow): KeptReport => ({
  ...{ id: row.id, title: row.title, run: row.runId, runTitle: row.runTitle, schedule: row.scheduleId },
  ...{ person: row.person, createdAt: row.createdAt.toISOString() },
});

type InRow = KeptReport & { totals: Totals };
const inRow = (row: KeptReportRow): InRow => ({
  ...told(row),
  totals: totalsOf(reportSchema.parse(JSON.parse(row.content))),
});

/** Reports of runs that are kept as they were, for later and to be put beside one another. */
export class KeptReports {
  private readonly batches: Batches;

  constructor(batches: Batches) {
    this.batches = batches;
  }

  /** The reports that a person sees, the latest first. */
  async list(person: Person): Promise<KeptReport[]> {
    const rows = await KeptReportRow.findAll({
      attributes: { exclude: ['content'] },
      order: [['createdAt', 'DESC']],
      limit: mostListed,
    });
    return (await this.seen(rows, person)).map(told);
  }

  /** Those of other people that tell of files in closed projects are not shown. */
  private async seen(rows: readonly KeptReportRow[], person: Person): Promise<readonly KeptReportRow[]> {
    const hidden = await closedFiles(person);
    if (hidden.length === 0) return rows;
    const closed = await BatchItemRow.findAll({
      attributes: ['runId'],
      where: { runId: rows.map((row) => row.runId), fileId: { [Op.in]: hidden } },
      group: ['runId'],
    });
    const runs = new Set(closed.map((row) => row.runId));
    return rows.filter((row) => row.personId === person.id || !runs.has(row.runId));
  }

  private async row(id: string, person: Person): Promise<KeptReportRow> {
    const row = await KeptReportRow.findByPk(id);
    const [seen] = row ? await this.seen([row], person) : [];
    if (!seen) throw new HttpProblem(404, 'Not found', 'There is no such report. It may have been removed.');
    return seen;
  }

  /** A report, and those that the same schedule made before it. */
  async get(id: string, person: Person): Promise<InRow & { report: RunReport; before: InRow[] }> {
    const row = await this.row(id, person);
    const { scheduleId, title, createdAt } = row;
    const before =
      scheduleId === null
        ? []
        : await KeptReportRow.findAll({
            where: { scheduleId, title, createdAt: { [Op.lt]: createdAt } },
            order: [['createdAt', 'DESC']],
            limit: mostBefore,
          });
    const report = reportSchema.parse(JSON.parse(row.content));
    return { ...inRow(row), report, before: (await this.seen(before, person)).map(inRow) };
  }

  /** Keeps a report of a run as the person sees it now. */
  async keep(run: string, step: number, person: Person): Promise<KeptReport> {
    const found = (await this.batches.reports(run, person)).find((one) => one.step === step);
    if (!found?.report)
      throw new HttpProblem(422, 'Nothing to keep', found?.problem ?? `Step ${step + 1} of this run has no report.`);
    return this.store(run, found, found.report, person);
  }

  /** Keeps all reports of a run that could be made. */
  async keepAll(run: string, person: Person): Promise<void> {
    for (const one of await this.batches.reports(run, person))
      if (one.report) await this.store(run, one, one.report, person);
  }

  private async store(run: string, { step, title }: BatchReport, report: unknown, person: Person): Promise<KeptReport> {
    const row = must(await BatchRunRow.findByPk(run));
    return told(
      await KeptReportRow.create({
        ...{ id: randomBytes(8).toString('hex'), title, runId: run, step, runTitle: row.title },
        ...{ scheduleId: row.scheduleId, content: JSON.stringify(report), person: person.name, personId: person.id },
      }),
    );
  }

  async remove(id: string, person: Person): Promise<string> {
    const row = await this.row(id, person);
    if (row.personId !== person.id && !mayAct(person.role, 'lead'))
      throw new HttpProblem(403, 'Not allowed', `${row.person} kept this report; that person or a lead may remove it.`);
    await row.destroy();
    return row.title;
  }
}

export function reportRoutes(reports: KeptReports): Route[] {
  return bind(reportsApi, {
    list: async ({ person }) => ({ reports: await reports.list(person) }),
    get: ({ params, person }) => reports.get(params.id, person),
    keep: ({ params, person }) => reports.keep(params.id, params.step, person),
    async remove({ params, person, ctx }) {
      say(ctx, { target: `“${await reports.remove(params.id, person)}”` });
      return undefined;
    },
  });
}
