import type { BatchRun, batchesApi, GroupedChange } from '@basitax/api/batches';
import type { Person } from '@basitax/api/people';
import type { Unit } from '@basitax/core/batch/change-group-schema';
import type { Theme } from '@basitax/core/inspect/sketch-colors';
import type { Revised } from '@basitax/core/work/revised';
import { QueryTypes, type Sequelize } from 'sequelize';
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
      Record<'key' | 'what' | 'kinds' | 'said', string> & { unit: Unit } & Record<
          'things' | 'files' | 'taken' | 'left',
          string
        >
    >(
      `SELECT c.change_key AS \`key\`, MIN(c.what) AS what, MIN(c.kinds) AS kinds, MIN(c.said) AS said, MIN(c.unit) AS unit,
         SUM(c.things) AS things, COUNT(*) AS files, SUM(c.is_left) AS \`left\`,
         SUM(NOT c.is_left AND (COALESCE(i.accepted, FALSE) OR i.state <> 'planned')) AS taken
       FROM batch_changes c JOIN batch_items i ON i.run_id = c.run_id AND i.file_id = c.file_id
       WHERE c.run_id = :run${file === undefined ? '' : ' AND c.file_id = :file'}${hidden.length === 0 ? '' : ' AND c.file_id NOT IN (:hidden)'}
       GROUP BY c.change_key ORDER BY things DESC, what, kinds, said`,
      { type: QueryTypes.SELECT, replacements: { run, file, hidden: [...hidden] } },
    );
    return rows.map(({ key, what, kinds, said, unit, things, files, taken, left }) => ({
      ...{ key, what, of: kinds, said, unit, things: Number(things) },
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
    const where = [
      ...(files ? ['i.file_id IN (:files)'] : []),
      ...(hidden.length > 0 ? ['i.file_id NOT IN (:hidden)'] : []),
    ].map((one) => ` AND ${one}`);
    const given = { run, accepted, keys: [...keys], files: [...(files ?? [])], hidden: [...hidden] };
    await this.sequelize.transaction(async (transaction) => {
      const rows = await this.sequelize.query<{ id: string }>(
        `SELECT DISTINCT i.file_id AS id FROM batch_items i
         JOIN batch_changes c ON c.run_id = i.run_id AND c.file_id = i.file_id AND c.change_key IN (:keys)
         WHERE i.run_id = :run AND i.state = 'planned'${where.join('')} FOR UPDATE`,
        { type: QueryTypes.SELECT, transaction, replacements: given },
      );
      if (rows.length === 0)
        throw new HttpProblem(422, 'Nothing to decide', 'None of these changes waits for a decision.');
      const change = { transaction, replacements: { ...given, ids: rows.map((row) => row.id) } };
      // what nobody had accepted yet takes just what is accepted now
      await this.sequelize.query(
        `UPDATE batch_changes c JOIN batch_items i ON i.run_id = c.run_id AND i.file_id = c.file_id
         SET c.is_left = IF(c.change_key IN (:keys), NOT :accepted, c.is_left OR (:accepted AND NOT COALESCE(i.accepted, FALSE)))
         WHERE c.run_id = :run AND c.file_id IN (:ids)`,
        { ...change, type: QueryTypes.UPDATE },
      );
      await this.sequelize.query(
        `UPDATE batch_items i
         JOIN (SELECT file_id, SUM(is_left) AS gone, COUNT(*) AS whole FROM batch_changes
               WHERE run_id = :run AND file_id IN (:ids) GROUP BY file_id) c ON c.file_id = i.file_id
         SET i.left_out = c.gone, i.changed_at = NOW(3),
             i.accepted = IF(:accepted, TRUE, IF(c.gone = c.whole, FALSE, i.accepted))
         WHERE i.run_id = :run`,
        { ...change, type: QueryTypes.UPDATE },
      );
    });
    return this.batches.run(run, person);
  }
}
