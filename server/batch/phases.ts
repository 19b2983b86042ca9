import { QueryTypes, type Sequelize } from 'sequelize';

/** What a run becomes when none of its files waits for anything any more. */
const settled = { planning: 'review', applying: 'applied', 'rolling-back': 'rolled-back' } as const;

/**
 * Moves a run on where nobody has anything to do in it. One statement, so that it does not matter how many look at
 * once.
 */
export async function settlePhase(sequelize: Sequelize, run: string): Promise<void> {
  const cases = Object.entries(settled).map(([from, to]) => `WHEN '${from}' THEN '${to}'`);
  await sequelize.query(
    `UPDATE batch_runs SET phase = CASE phase ${cases.join(' ')} ELSE phase END WHERE id = ? AND NOT EXISTS (SELECT 1 FROM batch_items WHERE run_id = ? AND state IN ('waiting', 'to-apply', 'to-roll-back'))`,
    { type: QueryTypes.UPDATE, replacements: [run, run] },
  );
}
