import type { BatchRun, batchesApi, GroupedChange } from '@basitax/api/batches';
import type { Person } from '@basitax/api/people';
import { groupBy } from '@basitax/core/group-by';
import type { Theme } from '@basitax/core/inspect/sketch-colors';
import type { Revised } from '@basitax/core/work/revised';
import { Op, QueryTypes, type Sequelize } from 'sequelize';
import type { z } from 'zod';
import { BatchChangeRow, BatchItemRow, BatchPlanRow } from '../db/batch-models.ts';
import type { FileStore } from '../files/store.ts';
import { thumbnailSvg } from '../files/thumbnail.ts';
import { HttpProblem } from '../http/problem.ts';
import { closedFiles } from '../projects/access.ts';
import type { Workplace } from '../work/desk.ts';
import type { Batches } from './batches.ts';
import { unpacked } from './packed.ts';

type Changed = z.output<typeof batchesApi.changed.answer>['files'];
type ChangedIn = z.input<typeof batchesApi.changedIn.answer>;

/** What a run would change, by the groups that are accepted or left out as one. */
export class RunChanges {
  private readonly sequelize: Sequelize;
  private readonly batches: Batches;
  private readonly store: FileStore;
  private readonly pool: Workplace;

  constructor(sequelize: Sequelize, batches: Batches, store: FileStore, pool: Workplace) {
    this.sequelize = sequelize;
    this.batches = batches;
    this.store = store;
    this.pool = pool;
  }

  /** The groups of all files that the person sees, or of one, those of most things first. */
  async list(run: string, person: Person, file?: string): Promise<GroupedChange[]> {
    await this.batches.run(run, person);
    const hidden = await closedFiles(person);
    const rows = await this.sequelize.query<
      Record<'key' | 'what' | 'kinds' | 'said', string> & Record<'things' | 'files' | 'taken' | 'left', string>
    >(
      `SELECT c.change_key AS \`key\`, MIN(c.what) AS what, MIN(c.kinds) AS kinds, MIN(c.said) AS said,
         SUM(c.things) AS things, COUNT(*) AS files, SUM(c.is_left) AS \`left\`,
         SUM(NOT c.is_left AND (COALESCE(i.accepted, FALSE) OR i.state <> 'planned')) AS taken
       FROM batch_changes c JOIN batch_items i ON i.run_id = c.run_id AND i.file_id = c.file_id
       WHERE c.run_id = :run${file === undefined ? '' : ' AND c.file_id = :file'}${hidden.length === 0 ? '' : ' AND c.file_id NOT IN (:hidden)'}
       GROUP BY c.change_key ORDER BY things DESC, what, kinds, said`,
      { type: QueryTypes.SELECT, replacements: { run, file, hidden: [...hidden] } },
    );
    return rows.map(({ key, what, kinds, said, things, files, taken, left }) => ({
      ...{ key, what, of: kinds, said, things: Number(things) },
      ...{ files: Number(files), taken: Number(taken), left: Number(left) },
    }));
  }

  /** The files in which a group lies and that the person sees, by title. */
  async files(run: string, key: string, person: Person): Promise<Changed> {
    await this.batches.run(run, person);
    const hidden = new Set(await closedFiles(person));
    const rows = (await BatchChangeRow.findAll({ where: { runId: run, changeKey: key } })).filter(
      ({ fileId }) => !hidden.has(fileId),
    );
    if (rows.length === 0)
      throw new HttpProblem(404, 'Not found', 'This run does not have these changes. It may have been planned again.');
    const own = new Map(rows.map((row) => [row.fileId, row]));
    const items = await BatchItemRow.findAll({
      where: { runId: run, fileId: [...own.keys()] },
      order: [['position', 'ASC']],
    });
    return items.flatMap(({ fileId, title, accepted }) => {
      const row = own.get(fileId);
      return row ? [{ file: fileId, title, things: row.things, left: row.isLeft, accepted }] : [];
    });
  }

  /** A picture of where in a file a group lies. */
  async picture(run: string, key: string, file: string, theme: Theme): Promise<ChangedIn> {
    const item = await BatchItemRow.findOne({ where: { runId: run, fileId: file } });
    const plan = await BatchPlanRow.findOne({ where: { runId: run, fileId: file } });
    const revised = plan && (await unpacked<Revised | null>(plan.revised));
    if (!revised || item?.base === null || item?.base === undefined)
      throw new HttpProblem(404, 'Not found', 'The run changes nothing in this file.');
    const base = await this.store.text(file, item.base);
    const shown = await this.pool.run(
      'pictureGroup',
      { edit: revised.edit, key },
      { doc: base.text, catalogue: base.catalogue },
    );
    if (!shown) throw new HttpProblem(404, 'Not found', 'These changes are not in this file.');
    const { sketch, graph, names } = shown;
    return { svg: thumbnailSvg(sketch, theme), ...(graph !== undefined && { graph }), names: [...names] };
  }

  /**
   * Accepts groups, or leaves them out, in files that are planned: those named, or all that the person sees. A file that
   * nobody had accepted yet takes of its changes just what is accepted now; one of which all is left out is rejected.
   */
  async take(
    run: string,
    accepted: boolean,
    keys: readonly string[],
    person: Person,
    files?: readonly string[],
  ): Promise<BatchRun> {
    await this.batches.decidable(run, person);
    const hidden = await closedFiles(person);
    const items = await BatchItemRow.findAll({
      where: {
        runId: run,
        state: 'planned',
        [Op.and]: [
          files ? { fileId: [...files] } : {},
          hidden.length > 0 ? { fileId: { [Op.notIn]: [...hidden] } } : {},
        ],
      },
    });
    const rows = await BatchChangeRow.findAll({ where: { runId: run, fileId: items.map((item) => item.fileId) } });
    const wanted = new Set(keys);
    const concerned = new Set(rows.flatMap((row) => (wanted.has(row.changeKey) ? [row.fileId] : [])));
    if (concerned.size === 0)
      throw new HttpProblem(422, 'Nothing to decide', 'None of these changes waits for a decision.');
    const fresh = new Set(items.flatMap((item) => (item.accepted === true ? [] : [item.fileId])));
    const changed: { runId: string; fileId: string; changeKey: string; isLeft: boolean }[] = [];
    const left = new Map<string, { left: number; all: number }>();
    for (const row of rows) {
      if (!concerned.has(row.fileId)) continue;
      const isLeft = wanted.has(row.changeKey) ? !accepted : row.isLeft || (accepted && fresh.has(row.fileId));
      if (isLeft !== row.isLeft) changed.push({ runId: run, fileId: row.fileId, changeKey: row.changeKey, isLeft });
      const count = left.get(row.fileId) ?? { left: 0, all: 0 };
      left.set(row.fileId, { left: count.left + Number(isLeft), all: count.all + 1 });
    }
    await this.sequelize.transaction(async (transaction) => {
      for (const isLeft of [true, false])
        for (const [file, keysOf] of groupBy(
          changed.filter((one) => one.isLeft === isLeft),
          (one) => one.fileId,
        ))
          await BatchChangeRow.update(
            { isLeft },
            { where: { runId: run, fileId: file, changeKey: keysOf.map((one) => one.changeKey) }, transaction },
          );
      for (const [file, count] of left)
        await BatchItemRow.update(
          {
            leftOut: count.left,
            ...(accepted ? { accepted: true } : count.left === count.all && { accepted: false }),
            changedAt: new Date(),
          },
          { where: { runId: run, fileId: file, state: 'planned' }, transaction },
        );
    });
    return this.batches.run(run, person);
  }
}
