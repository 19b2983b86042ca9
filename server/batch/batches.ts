import { randomBytes, randomInt } from 'node:crypto';
import {
  againStates,
  type BatchItem,
  type BatchPhase,
  type BatchRun,
  type ItemDetail,
  type ItemState,
  itemSummarySchema,
} from '@basitax/api/batches';
import type { Person } from '@basitax/api/people';
import { mayAct } from '@basitax/api/roles';
import { recipeProblem } from '@basitax/core/batch/check';
import { type FileAim, fileAimSchema, type Recipe, recipeSchema } from '@basitax/core/batch/recipe';
import { type ToldChange, toldChange } from '@basitax/core/inspect/compare/compare';
import type { Sketch } from '@basitax/core/inspect/sketch';
import type { Row } from '@basitax/core/table/cells';
import type { Revised } from '@basitax/core/work/revised';
import type { PlannedRecipe } from '@basitax/core/work/script-tasks';
import { fn, Op, QueryTypes, type Sequelize } from 'sequelize';
import { BatchItemRow, BatchPlanRow, BatchRunRow, BatchTableRow } from '../db/batch-models.ts';
import { SketchRow } from '../db/models.ts';
import type { FileSearch } from '../files/search.ts';
import { type FileStore, pinnedIn } from '../files/store.ts';
import { HttpProblem } from '../http/problem.ts';
import type { Library } from '../library/library.ts';
import { checkScript } from '../library/script-check.ts';
import { closedFiles } from '../projects/access.ts';
import type { Workplace } from '../work/desk.ts';
import { packed, unpacked } from './packed.ts';
import { settlePhase } from './phases.ts';
import { type BatchReport, reportsOf } from './reports.ts';

/**
 * Batch runs as people see them: started, looked at, accepted, applied, rolled back. What is to be done with each file
 * is done by workers.
 */
export class Batches {
  private readonly sequelize: Sequelize;
  private readonly store: FileStore;
  private readonly pool: Workplace;
  private readonly library: Library;
  private readonly search: FileSearch;

  constructor(sequelize: Sequelize, store: FileStore, pool: Workplace, library: Library, search: FileSearch) {
    this.search = search;
    this.sequelize = sequelize;
    this.store = store;
    this.pool = pool;
    this.library = library;
  }

  /** Starts a run over the files that fit now. Throws 422 where the recipe cannot be run, or there is no such file. */
  async start(
    wanted: { title: string; recipe: Recipe; files: FileAim; repeats?: string | undefined },
    person: Person,
    {
      tables = new Map(),
      ...byItself
    }: { scheduleId?: string; goesOn?: string; tables?: ReadonlyMap<string, readonly Row[]> } = {},
  ): Promise<BatchRun> {
    if (wanted.recipe.steps.some((step) => step.do === 'table') && tables.size === 0)
      throw new HttpProblem(422, 'No table', 'A recipe with a table is started by sending the table.');
    const packedTables: { fileId: string; content: Buffer }[] = [];
    for (const [fileId, rows] of tables) packedTables.push({ fileId, content: await packed(rows) });
    const recipe = await this.resolved(wanted.recipe, person);
    const problem = recipeProblem(recipe);
    if (problem) throw new HttpProblem(422, 'The recipe cannot be run', problem.message);
    const files = await this.aimed(wanted.files, person);
    if (files.length === 0) throw new HttpProblem(422, 'There is nothing to do', 'No files match.');
    const id = `b${randomBytes(8).toString('hex')}`;
    const now = new Date();
    await this.sequelize.transaction(async (transaction) => {
      await BatchRunRow.create(
        {
          ...{
            id,
            title: wanted.title,
            recipe: JSON.stringify(recipe),
            files: JSON.stringify(wanted.files),
            message: wanted.title.slice(0, 500),
          },
          ...{ ...byItself, beforeId: wanted.repeats ?? null },
          ...{ author: person.name, authorId: person.id, seed: randomInt(2 ** 31), phase: 'planning' },
        },
        { transaction },
      );
      for (let i = 0; i < files.length; i += 500) {
        const rows = files.slice(i, i + 500).map((file, k) => ({
          ...{
            runId: id,
            fileId: file.id,
            position: i + k,
            title: file.title,
            state: 'waiting' as const,
            base: null,
            applied: null,
            rolledBack: null,
            accepted: null,
          },
          ...{ summary: null, why: '', fence: 0, attempts: 0, leaseUntil: null, worker: '', changedAt: now },
        }));
        await BatchItemRow.bulkCreate(rows, { transaction });
      }
      for (const table of packedTables) await BatchTableRow.create({ runId: id, ...table }, { transaction });
    });
    return this.run(id, person);
  }

  /** The files that a run would be about and that the person sees, by title. */
  async aimed({ query, ids }: FileAim, person: Person): Promise<{ id: string; title: string }[]> {
    const wanted = ids && new Set(ids);
    const found = await this.search.files(person, query);
    return found.filter((file) => wanted?.has(file.id) ?? true).map(({ id, title }) => ({ id, title }));
  }

  /** The recipe with its scripts as they are in the library now: a run goes on as it was started. */
  async resolved(recipe: Recipe, person: Person): Promise<Recipe> {
    const steps: Recipe['steps'] = [];
    for (const step of recipe.steps) {
      if (step.do !== 'script' || step.source !== undefined || !step.script) steps.push(step);
      else {
        const found = await this.library.version(step.script.id, step.script.version, person);
        steps.push({ ...step, source: found.content, title: step.title || found.title });
      }
    }
    for (const [i, step] of steps.entries())
      if (step.do === 'script' && step.source !== undefined)
        await checkScript(this.pool, step.source, `The script of step ${i + 1} has mistakes`);
    return { steps };
  }

  /** The runs that a person sees, the latest first. */
  async list(person: Person): Promise<BatchRun[]> {
    const hidden = await closedFiles(person);
    const rows = await BatchRunRow.findAll({ order: [['createdAt', 'DESC']], limit: 100 });
    const told = await Promise.all(rows.map((row) => this.told(row, person, hidden)));
    return told.flatMap((run) => run ?? []);
  }

  async run(id: string, person: Person): Promise<BatchRun> {
    return (await this.told(await this.row(id), person, await closedFiles(person))) ?? missing(id);
  }

  private async row(id: string): Promise<BatchRunRow> {
    return (await BatchRunRow.findByPk(id)) ?? missing(id);
  }

  /**
   * A run as a person sees it: undefined where all its files are in projects that are closed to that person. Scripts of
   * the library are told to whoever started it and to leads alone.
   */
  private async told(row: BatchRunRow, person: Person, hidden: readonly string[]): Promise<BatchRun | undefined> {
    const rows = (await BatchItemRow.findAll({
      attributes: ['state', 'accepted', [fn('COUNT', '*'), 'count']],
      where: { runId: row.id, ...notOf(hidden) },
      group: ['state', 'accepted'],
      raw: true,
    })) as unknown as {
      state: ItemState;
      accepted: boolean | null;
      count: number;
    }[];
    if (rows.length === 0) return undefined;
    const recipe = recipeSchema.parse(JSON.parse(row.recipe));
    const files = storedAim(row.files);
    const counts: Partial<Record<ItemState, number>> = {};
    for (const one of rows) counts[one.state] = (counts[one.state] ?? 0) + Number(one.count);
    return {
      ...{
        id: row.id,
        title: row.title,
        phase: row.phase,
        author: row.author,
        message: row.message,
        createdAt: row.createdAt.toISOString(),
      },
      ...{
        recipe: mayDecide(row, person) ? recipe : withoutSources(recipe),
        files: { ...files, ...(files.ids && { ids: files.ids.filter((id) => !hidden.includes(id)) }) },
        counts,
      },
      ...{ schedule: row.scheduleId, repeats: row.beforeId },
      total: rows.reduce((sum, one) => sum + Number(one.count), 0),
      accepted: rows.reduce((sum, one) => sum + (one.accepted && one.state === 'planned' ? Number(one.count) : 0), 0),
    };
  }

  /** Its files in the order of their titles. */
  async items(id: string): Promise<BatchItem[]> {
    return (await this.changes(id)).items;
  }

  /** Its files that changed at or after a moment, in the order of their titles, and the moment of the latest change. */
  async changes(id: string, since?: Date): Promise<{ items: BatchItem[]; latest: Date | undefined }> {
    const rows = await BatchItemRow.findAll({
      where: { runId: id, ...(since && { changedAt: { [Op.gte]: since } }) },
      order: [['position', 'ASC']],
    });
    const latest = rows.reduce<Date | undefined>(
      (last, row) => (last && last > row.changedAt ? last : row.changedAt),
      undefined,
    );
    return { items: rows.map(itemOf), latest };
  }

  /** All that was planned for a file, with each change in words. */
  async detail(id: string, file: string): Promise<ItemDetail> {
    const { item, plan } = await this.planned(id, file);
    const outcome = plan && (await unpacked<PlannedRecipe['outcome']>(plan.outcome));
    const revised = plan && (await unpacked<Revised | null>(plan.revised));
    const changes: ToldChange[] = [];
    if (revised && item.base !== null) {
      const base = await this.store.text(file, item.base);
      // after an upgrade kinds are called as the new catalogue has them
      const catalogue = await this.store.catalogues.get(pinnedIn(revised.text));
      const compared = await this.pool.run(
        'compare',
        { before: base.text, catalogue: base.catalogue },
        { doc: revised.text, catalogue },
      );
      changes.push(...compared.changes.slice(0, 2000).map(toldChange));
    }
    const since = item.base !== null && item.state === 'conflict' ? await this.store.revisions(file) : [];
    return {
      ...itemOf(item),
      conflicts: item.conflicts === null ? [] : (JSON.parse(item.conflicts) as ItemDetail['conflicts']),
      saved: since.flatMap(({ number, author, message }) =>
        number > (item.base ?? 0) ? [{ number, author, message }] : [],
      ),
      steps: [...(outcome?.steps ?? [])],
      findings: [...(outcome?.findings ?? [])].map((one) => ({ ...one, place: [...one.place] })),
      log: [...(outcome?.log ?? [])],
      outputs: [...(outcome?.outputs ?? [])],
      changes,
    };
  }

  /** What the scripts of a run make of all its files, as far as the person sees them. */
  async reports(id: string, person: Person): Promise<readonly BatchReport[]> {
    const row = await this.row(id);
    const hidden = await closedFiles(person);
    if (!(await this.told(row, person, hidden))) missing(id);
    return reportsOf(row, hidden, this.pool);
  }

  /** How a file looks before the run, or would look after it. */
  async sketch(id: string, file: string, which: 'before' | 'after'): Promise<Sketch> {
    const { item, plan } = await this.planned(id, file);
    if (which === 'after') {
      const revised = plan && (await unpacked<Revised | null>(plan.revised));
      if (revised) return revised.sketch;
    }
    const row = item.base === null ? null : await SketchRow.findOne({ where: { fileId: file, number: item.base } });
    return row ? (JSON.parse(row.content) as Sketch) : (JSON.parse(await this.store.sketch(file)) as Sketch);
  }

  private async planned(id: string, file: string): Promise<{ item: BatchItemRow; plan: BatchPlanRow | null }> {
    const item = await BatchItemRow.findOne({ where: { runId: id, fileId: file } });
    if (!item) throw new HttpProblem(404, 'Not found', `The run has no file “${file}”.`);
    return { item, plan: await BatchPlanRow.findOne({ where: { runId: id, fileId: file } }) };
  }

  /** Accepts or rejects files that were planned: those named, or all that the person sees. */
  async accept(id: string, accepted: boolean, person: Person, files?: readonly string[]): Promise<BatchRun> {
    await this.decidable(id, person);
    const hidden = await closedFiles(person);
    await BatchItemRow.update(
      { accepted, changedAt: new Date() },
      { where: { runId: id, state: 'planned', [Op.and]: [notOf(hidden), files ? { fileId: [...files] } : {}] } },
    );
    return this.run(id, person);
  }

  /** Applies what was accepted, under one message. */
  async apply(id: string, message: string, person: Person): Promise<BatchRun> {
    const row = await this.startable(
      id,
      person,
      ['review', 'applied', 'cancelled'],
      'Apply when all files are planned.',
    );
    // projects may have been closed since
    const hidden = await closedFiles(person);
    const waiting = { where: { runId: id, state: 'planned' as const, accepted: true, ...notOf(hidden) } };
    if ((await BatchItemRow.count(waiting)) === 0)
      throw new HttpProblem(422, 'Nothing is accepted', 'Accept the files that are to be changed first.');
    await this.sequelize.transaction(async (transaction) => {
      await BatchItemRow.update(
        { state: 'to-apply', attempts: 0, leaseUntil: null, changedAt: new Date() },
        { ...waiting, transaction },
      );
      await row.update({ phase: 'applying', message: message || row.title.slice(0, 500) }, { transaction });
    });
    return this.run(id, person);
  }

  /** Takes back all that was applied, but what was changed after. */
  async rollBack(id: string, person: Person): Promise<BatchRun> {
    const row = await this.startable(id, person, ['applied', 'cancelled', 'review'], 'Wait until it is applied.');
    const hidden = await closedFiles(person);
    const applied = { runId: id, state: 'applied' as const, ...notOf(hidden) };
    if ((await BatchItemRow.count({ where: applied })) === 0)
      throw new HttpProblem(
        422,
        'Nothing is applied',
        'The run has not changed any file, so there is nothing to undo.',
      );
    await this.sequelize.transaction(async (transaction) => {
      await BatchItemRow.update(
        { state: 'to-roll-back', attempts: 0, leaseUntil: null, changedAt: new Date() },
        { where: applied, transaction },
      );
      await row.update({ phase: 'rolling-back' }, { transaction });
    });
    return this.run(id, person);
  }

  /**
   * Plans files again that failed, were stopped or came into conflict: those named, or all that the person sees. The
   * recipe stays that of the run; what they hold now is what it is done on.
   */
  async again(id: string, person: Person, files?: readonly string[]): Promise<BatchRun> {
    const row = await this.startable(
      id,
      person,
      ['review', 'applied', 'cancelled', 'rolled-back'],
      'Wait until the run stands still.',
    );
    const hidden = await closedFiles(person);
    const where = {
      runId: id,
      state: [...againStates],
      [Op.and]: [notOf(hidden), files ? { fileId: [...files] } : {}],
    };
    if ((await BatchItemRow.count({ where })) === 0)
      throw new HttpProblem(422, 'Nothing to plan again', 'None of these files failed, was stopped or is in conflict.');
    await this.sequelize.transaction(async (transaction) => {
      await BatchItemRow.update(
        { state: 'waiting', attempts: 0, leaseUntil: null, accepted: null, why: '', changedAt: new Date() },
        { where, transaction },
      );
      await row.update({ phase: 'planning' }, { transaction });
    });
    return this.run(id, person);
  }

  /** Lets alone what nobody has done yet; what is done stays. */
  async cancel(id: string, person: Person): Promise<BatchRun> {
    const row = await this.startable(id, person, ['planning', 'applying', 'rolling-back'], 'Nothing is going on.');
    const back: Readonly<Record<string, ItemState>> = {
      waiting: 'cancelled',
      'to-apply': 'planned',
      'to-roll-back': 'applied',
    };
    await this.sequelize.transaction(async (transaction) => {
      for (const [state, to] of Object.entries(back))
        await this.sequelize.query(
          'UPDATE batch_items SET state = ?, fence = fence + 1, lease_until = NULL, changed_at = NOW(3) WHERE run_id = ? AND state = ?',
          {
            transaction,
            type: QueryTypes.UPDATE,
            replacements: [to, id, state],
          },
        );
      await row.update(
        { phase: row.phase === 'planning' ? 'cancelled' : row.phase === 'applying' ? 'review' : 'applied' },
        { transaction },
      );
    });
    return this.run(id, person);
  }

  /** A run that a person may decide on: one's own, or for a lead any. Throws 404 where the person does not see it. */
  async decidable(id: string, person: Person): Promise<BatchRunRow> {
    const row = await this.row(id);
    if (!(await this.told(row, person, await closedFiles(person)))) missing(id);
    if (mayDecide(row, person)) return row;
    throw new HttpProblem(
      403,
      'Not allowed',
      `This run was started by ${row.author}; that person or a lead may do this.`,
    );
  }

  /** A run in one of some phases that a person may decide on. */
  private async startable(
    id: string,
    person: Person,
    phases: readonly BatchPhase[],
    otherwise: string,
  ): Promise<BatchRunRow> {
    await settlePhase(this.sequelize, id);
    const row = await this.decidable(id, person);
    if (!phases.includes(row.phase)) throw new HttpProblem(422, 'Not now', otherwise);
    return row;
  }
}

const missing = (id: string): never => {
  throw new HttpProblem(404, 'Not found', `There is no batch run “${id}”.`);
};

/** Whether a person may accept, apply and take back what a run did? */
const mayDecide = (row: BatchRunRow, person: Person): boolean =>
  row.authorId === person.id || mayAct(person.role, 'lead');

const notOf = (hidden: readonly string[]): { fileId?: { [Op.notIn]: string[] } } =>
  hidden.length === 0 ? {} : { fileId: { [Op.notIn]: [...hidden] } };

/** The aim of a run as it is kept; older runs kept a part of the title and one use. */
function storedAim(text: string): FileAim {
  const raw = JSON.parse(text) as { title?: string; uses?: { name?: string }; ids?: string[] };
  if (!('title' in raw) && !('uses' in raw)) return fileAimSchema.parse(raw);
  const parts = [
    ...(raw.title ? [`title:${JSON.stringify(raw.title)}`] : []),
    ...(raw.uses?.name ? [`has(${JSON.stringify(raw.uses.name)})`] : []),
  ];
  return { query: parts.join(' '), ...(raw.ids && { ids: raw.ids }) };
}

const withoutSources = ({ steps }: Recipe): Recipe => ({
  steps: steps.map((step) => {
    if (step.do !== 'script' || !step.script) return step;
    const { source: _, ...rest } = step;
    return rest;
  }),
});

function itemOf(row: BatchItemRow): BatchItem {
  const { fileId, title, state, base, applied, rolledBack, accepted, leftOut, summary, why } = row;
  return {
    file: fileId,
    title,
    state,
    base,
    applied,
    rolledBack,
    accepted,
    leftOut,
    summary: summary === null ? null : itemSummarySchema.parse(JSON.parse(summary)),
    why,
  };
}
