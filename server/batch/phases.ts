import type { BatchPhase, ItemState } from '@basitax/api/batches';
import { plural } from '@basitax/core/words';
import { fn, QueryTypes, type Sequelize, type Transaction } from 'sequelize';
import { BatchItemRow, BatchRunRow } from '../db/batch-models.ts';
import { retried } from '../db/retry.ts';
import { happened, notify } from '../events/record.ts';

/** What a run becomes when none of its files waits for anything any more, and what is said of it then. */
const settled = {
  planning: { to: 'review', type: 'run.planned' },
  applying: { to: 'applied', type: 'run.applied' },
  'rolling-back': { to: 'rolled-back', type: 'run.rolled-back' },
} as const;

/** Moves a run on where nobody has anything to do in it, and tells those who want to know; once, whoever looks. */
export async function settlePhase(sequelize: Sequelize, run: string): Promise<void> {
  const [open] = await sequelize.query<{ open: number }>(
    `SELECT EXISTS (SELECT 1 FROM batch_items WHERE run_id = ? AND state IN ('waiting', 'to-apply', 'to-roll-back')) AS open`,
    { type: QueryTypes.SELECT, replacements: [run] },
  );
  if (Number(open?.open) === 1) return;
  await retried(() =>
    sequelize.transaction(async (transaction) => {
      const row = await BatchRunRow.findByPk(run, { transaction, lock: transaction.LOCK.UPDATE });
      const next = row && settled[row.phase as keyof typeof settled];
      if (!row || !next) return;
      const counts = await countsOf(run, transaction);
      // somebody may have given it something to do meanwhile
      if (counts.waiting || counts['to-apply'] || counts['to-roll-back']) return;
      await row.update({ phase: next.to }, { transaction });
      const about = { run, ...(row.scheduleId !== null && { schedule: row.scheduleId }), counts };
      await happened(next.type, { person: row.author, title: row.title, ...about }, transaction);
      await notify(row.authorId, `“${row.title}” ${saidOf(next.to, counts)}`, `/batches/${run}`, transaction);
    }),
  );
}

/** Moves all runs on that nobody has anything to do in: whoever did the last of it may have ended before saying so. */
export async function settleAll(sequelize: Sequelize): Promise<void> {
  const open = await BatchRunRow.findAll({
    attributes: ['id'],
    where: { phase: Object.keys(settled) as BatchPhase[] },
  });
  for (const { id } of open) await settlePhase(sequelize, id);
}

type Counts = Partial<Record<ItemState, number>>;

async function countsOf(run: string, transaction: Transaction): Promise<Counts> {
  const rows = (await BatchItemRow.findAll({
    attributes: ['state', [fn('COUNT', '*'), 'count']],
    where: { runId: run },
    group: ['state'],
    raw: true,
    transaction,
  })) as unknown as { state: ItemState; count: number }[];
  return Object.fromEntries(rows.map(({ state, count }) => [state, Number(count)]));
}

/** How a run ended, in a few words. */
function saidOf(phase: 'review' | 'applied' | 'rolled-back', counts: Counts): string {
  const trouble = (counts.failed ?? 0) + (counts.stopped ?? 0) + (counts.conflict ?? 0) + (counts.kept ?? 0);
  const rest = trouble > 0 ? ` ${plural(trouble, 'file')} could not be done.` : '';
  if (phase === 'review') return `is planned: ${plural(counts.planned ?? 0, 'file')} would change.${rest}`;
  if (phase === 'applied') return `is applied to ${plural(counts.applied ?? 0, 'file')}.${rest}`;
  return `is rolled back in ${plural(counts['rolled-back'] ?? 0, 'file')}.${rest}`;
}
