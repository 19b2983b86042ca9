import type { Sketch } from '@basitax/core/inspect/sketch';
import type { Inspected } from '@basitax/core/work/tasks';
import { Op, QueryTypes, type Sequelize, type Transaction } from 'sequelize';
import { HookRun, KindUseRow, SketchRow } from '../db/models.ts';

/** What a hook is given of a revision that is being stored. */
export interface HookInput {
  readonly fileId: string;
  readonly number: number;
  readonly inspected: Inspected;
  /** The document as file text, for hooks that need more than what was inspected. */
  readonly text: string;
}

/**
 * Something that is derived from every revision, in the transaction that stores it. A raised `version` makes `fillIn` run the hook over
 * all revisions again, so that an index which a later part adds also covers what was stored before it.
 */
export interface RevisionHook {
  readonly name: string;
  readonly version: number;
  run(input: HookInput, transaction: Transaction): Promise<void>;
}

const sketches: RevisionHook = {
  name: 'sketch',
  version: 1,
  async run({ fileId, number, inspected }, transaction) {
    await SketchRow.upsert({ fileId, number, content: JSON.stringify(inspected.sketch satisfies Sketch) }, { transaction });
  },
};

/** Which kinds the newest revision of a file uses, and how often. */
const kindUses: RevisionHook = {
  name: 'kind-uses',
  version: 1,
  async run({ fileId, number, inspected }, transaction) {
    if (await KindUseRow.findOne({ where: { fileId, number: { [Op.gt]: number } }, transaction })) return;
    await KindUseRow.destroy({ where: { fileId }, transaction });
    const rows = Object.entries(inspected.kinds).map(([kind, count]) => ({ fileId, kind, number, count }));
    await KindUseRow.bulkCreate(rows, { transaction });
  },
};

export const revisionHooks: readonly RevisionHook[] = [sketches, kindUses];

export async function runHooks(input: HookInput, transaction: Transaction, hooks: readonly RevisionHook[] = revisionHooks): Promise<void> {
  for (const hook of hooks) {
    await hook.run(input, transaction);
    await HookRun.upsert({ fileId: input.fileId, number: input.number, hook: hook.name, version: hook.version }, { transaction });
  }
}

/** Runs hooks over stored revisions that they have not seen in their present version. Returns how many revisions were done. */
export async function fillIn(
  sequelize: Sequelize,
  inspect: (fileId: string, number: number) => Promise<Omit<HookInput, 'fileId' | 'number'>>,
  hooks: readonly RevisionHook[] = revisionHooks,
): Promise<number> {
  const behind = new Map<string, { fileId: string; number: number; hooks: RevisionHook[] }>();
  for (const hook of hooks) {
    const rows = await sequelize.query<{ file_id: string; number: number }>(
      'SELECT r.file_id, r.number FROM revisions r LEFT JOIN hook_runs h ON h.file_id = r.file_id AND h.number = r.number AND h.hook = ? AND h.version = ? WHERE h.hook IS NULL ORDER BY r.file_id, r.number',
      { replacements: [hook.name, hook.version], type: QueryTypes.SELECT },
    );
    for (const row of rows) {
      const key = `${row.file_id} ${row.number}`;
      const entry = behind.get(key) ?? { fileId: row.file_id, number: row.number, hooks: [] };
      entry.hooks.push(hook);
      behind.set(key, entry);
    }
  }
  for (const { fileId, number, hooks: missing } of behind.values()) {
    const more = await inspect(fileId, number);
    await sequelize.transaction((transaction) => runHooks({ fileId, number, ...more }, transaction, missing));
  }
  return behind.size;
}
