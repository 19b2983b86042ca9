import type { batchesApi } from '@basitax/api/batches';
import { recipeSchema } from '@basitax/core/batch/recipe';
import { stepTitle } from '@basitax/core/batch/titles';
import { emptyCatalogue } from '@basitax/core/document/catalogue';
import type { Json } from '@basitax/core/document/json';
import { addTo } from '@basitax/core/group-by';
import { scriptEnd } from '@basitax/core/script/job';
import { reportOf } from '@basitax/core/script/report';
import type { PlannedRecipe } from '@basitax/core/work/script-tasks';
import { Op } from 'sequelize';
import type { z } from 'zod';
import type { BatchRunRow } from '../db/batch-models.ts';
import { BatchItemRow, BatchPlanRow } from '../db/batch-models.ts';
import type { Workplace } from '../work/desk.ts';
import { unpacked } from './packed.ts';

/** What a script of a run made of all its files. */
export type BatchReport = z.infer<typeof batchesApi.report.answer>['reports'][number];

/**
 * What the scripts of a run make of what their `each` gave for each file that is planned, but for `hidden` ones. Cost:
 * that of reading each plan, and of the scripts.
 */
export async function reportsOf(
  run: BatchRunRow,
  hidden: readonly string[],
  pool: Workplace,
): Promise<readonly BatchReport[]> {
  const items = await BatchItemRow.findAll({
    attributes: ['fileId', 'title'],
    where: { runId: run.id, ...(hidden.length > 0 && { fileId: { [Op.notIn]: [...hidden] } }) },
    order: [['position', 'ASC']],
  });
  // what was planned, without the documents that it would make
  const plans = await BatchPlanRow.findAll({ attributes: ['fileId', 'outcome'], where: { runId: run.id } });
  const outcomes = new Map(plans.map((plan) => [plan.fileId, plan.outcome]));
  const given = new Map<number, { file: string; result: Json }[]>();
  for (const { fileId, title } of items) {
    const packed = outcomes.get(fileId);
    const outcome = packed && (await unpacked<PlannedRecipe['outcome']>(packed));
    for (const { step, value } of outcome?.results ?? []) addTo(given, step, { file: title, result: value });
  }
  const { steps } = recipeSchema.parse(JSON.parse(run.recipe));
  const reports: BatchReport[] = [];
  for (const [step, results] of [...given].sort(([a], [b]) => a - b)) {
    const script = steps[step];
    if (script?.do !== 'script' || script.source === undefined) continue;
    const { result, failure } = await pool.run(
      'reduce',
      { source: script.source, values: script.values, results },
      { catalogue: emptyCatalogue, limit: scriptEnd },
    );
    const about = { step, title: stepTitle(script), files: results.length };
    if (failure) {
      const at = failure.line === undefined ? '' : `Line ${failure.line}: `;
      reports.push({ ...about, problem: `${at}${failure.message}` });
    } else if (result !== undefined) reports.push({ ...about, report: reportOf(result) });
  }
  return reports;
}
