import { scoreVersion } from '@basitax/core/inspect/readability';
import type { Sketch } from '@basitax/core/inspect/sketch';
import type { UseCount } from '@basitax/core/inspect/uses';
import { must } from '@basitax/core/must';
import type { Judged, Noted } from '@basitax/core/work/revised';
import { Op, QueryTypes, type Sequelize, type Transaction } from 'sequelize';
import { HookRun, PendingRow, RevisionRow, SketchRow, UseRow } from '../db/models.ts';
import { RevisionFindingsRow } from '../db/team-models.ts';

/** What a hook is given of a revision that is being stored. */
export interface HookInput {
  readonly fileId: string;
  readonly number: number;
  readonly noted: Noted;
  /** By how much an edit changed what the revision before used; absent where there is no such edit. */
  readonly useChanges?: readonly UseCount[];
  /** The document as file text, for hooks that need more than what was noted. */
  readonly text: string;
}

/** What a hook is given of a revision that was judged. */
export interface JudgedInput {
  readonly fileId: string;
  readonly number: number;
  readonly judged: Judged;
}

/**
 * Something that is derived from every revision, in the transaction that stores it. A raised `version` makes `fillIn`
 * run the hook over all revisions again, so that an index which a later part adds also covers what was stored before
 * it.
 */
export interface RevisionHook {
  readonly name: string;
  readonly version: number;
  /** Only the newest revision of a file counts: older ones are passed over when it is filled in. */
  readonly newestOnly?: true;
  run(input: HookInput, transaction: Transaction): Promise<void>;
}

/** The same of what takes a while to find out: it may be run long after the revision was stored. */
export interface JudgingHook {
  readonly name: string;
  readonly version: number;
  run(input: JudgedInput, transaction: Transaction): Promise<void>;
}

const sketches: RevisionHook = {
  name: 'sketch',
  version: 1,
  async run({ fileId, number, noted }, transaction) {
    await SketchRow.upsert({ fileId, number, content: JSON.stringify(noted.sketch satisfies Sketch) }, { transaction });
  },
};

/** What the newest revision of a file uses. A saved edit changes only the rows of what it touches. */
const uses: RevisionHook = {
  name: 'uses',
  version: 1,
  newestOnly: true,
  async run({ fileId, number, noted, useChanges }, transaction) {
    const before =
      useChanges &&
      (await HookRun.findOne({
        where: { fileId, number: number - 1, hook: 'uses', version: this.version },
        transaction,
      }));
    if (before) await changeUses(fileId, useChanges, transaction);
    else await writeUses(fileId, noted.uses, transaction);
  },
};

/** Rows that one statement takes. */
const batch = 1000;

/** Writes all uses of a file, in place of those that are there. */
export async function writeUses(fileId: string, counts: readonly UseCount[], transaction: Transaction): Promise<void> {
  await UseRow.destroy({ where: { fileId }, transaction });
  for (let i = 0; i < counts.length; i += batch)
    await UseRow.bulkCreate(
      counts.slice(i, i + batch).map((use) => ({ fileId, ...use })),
      { transaction },
    );
}

async function changeUses(fileId: string, changes: readonly UseCount[], transaction: Transaction): Promise<void> {
  const sequelize = must(UseRow.sequelize);
  for (let i = 0; i < changes.length; i += batch) {
    const rows = changes.slice(i, i + batch).map(({ what, name, value, count }) => [fileId, what, name, value, count]);
    const sql = `INSERT INTO uses (file_id, what, name, value, count) VALUES ${rows.map(() => '(?)').join(', ')} ON DUPLICATE KEY UPDATE count = count + VALUES(count)`;
    await sequelize.query(sql, { replacements: rows, type: QueryTypes.INSERT, transaction });
  }
  if (changes.some((use) => use.count < 0))
    await UseRow.destroy({ where: { fileId, count: { [Op.lte]: 0 } }, transaction });
}

/** How much the house rules found in it. */
const findings: JudgingHook = {
  name: 'findings',
  version: 1,
  async run({ fileId, number, judged: { found } }, transaction) {
    const { error: errors, warning: warnings, info: infos } = found.counts;
    await RevisionFindingsRow.upsert(
      { fileId, number, errors, warnings, infos, byRule: JSON.stringify(found.byRule) },
      { transaction },
    );
  },
};

/** How readable it is: scored in another way, all are measured again. */
const measures: JudgingHook = {
  name: 'measures',
  version: scoreVersion,
  async run({ fileId, number, judged }, transaction) {
    await RevisionRow.update(
      { measures: JSON.stringify({ ...judged.measures, score: judged.score, scoring: scoreVersion }) },
      { where: { fileId, number }, transaction },
    );
  },
};

const revisionHooks: readonly RevisionHook[] = [sketches, uses];
const judgingHooks: readonly JudgingHook[] = [findings, measures];

export async function runHooks(
  input: HookInput,
  transaction: Transaction,
  hooks: readonly RevisionHook[] = revisionHooks,
): Promise<void> {
  for (const hook of hooks) {
    await hook.run(input, transaction);
    await HookRun.upsert(
      { fileId: input.fileId, number: input.number, hook: hook.name, version: hook.version },
      { transaction },
    );
  }
}

/** Stores what was found of a revision, which waits for nothing then. */
export async function runJudgingHooks(input: JudgedInput, transaction: Transaction): Promise<void> {
  const { fileId, number } = input;
  for (const hook of judgingHooks) {
    await hook.run(input, transaction);
    await HookRun.upsert({ fileId, number, hook: hook.name, version: hook.version }, { transaction });
  }
  await PendingRow.destroy({ where: { fileId, number }, transaction });
}

/** Puts all stored revisions in line that a judging hook has not seen in its present version. */
export async function queueUnjudged(sequelize: Sequelize): Promise<void> {
  for (const hook of judgingHooks)
    await sequelize.query(
      `INSERT IGNORE INTO pending_revisions (file_id, number, queued_at) SELECT r.file_id, r.number, r.created_at FROM revisions r
       LEFT JOIN hook_runs h ON h.file_id = r.file_id AND h.number = r.number AND h.hook = ? AND h.version = ? WHERE h.hook IS NULL`,
      { replacements: [hook.name, hook.version], type: QueryTypes.INSERT },
    );
}

/**
 * Runs hooks over stored revisions that they have not seen in their present version. Returns how many revisions were
 * done.
 */
export async function fillIn(
  sequelize: Sequelize,
  inspect: (fileId: string, number: number) => Promise<Omit<HookInput, 'fileId' | 'number'>>,
  hooks: readonly RevisionHook[] = revisionHooks,
): Promise<number> {
  const behind = new Map<string, { fileId: string; number: number; hooks: RevisionHook[] }>();
  for (const hook of hooks) {
    const rows = await sequelize.query<{ file_id: string; number: number }>(
      `SELECT r.file_id, r.number FROM revisions r ${hook.newestOnly ? 'JOIN files f ON f.id = r.file_id AND f.head = r.number' : ''} LEFT JOIN hook_runs h ON h.file_id = r.file_id AND h.number = r.number AND h.hook = ? AND h.version = ? WHERE h.hook IS NULL ORDER BY r.file_id, r.number`,
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
