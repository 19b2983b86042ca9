import { createHash } from 'node:crypto';
import { type ItemState, type ItemSummary, itemSummarySchema } from '@basitax/api/batches';
import { type Recipe, recipeSchema } from '@basitax/core/batch/recipe';
import { countsOf } from '@basitax/core/batch/run';
import type { Catalogue } from '@basitax/core/document/catalogue';
import type { Point } from '@basitax/core/edit/resolve';
import { type Edit, invert } from '@basitax/core/edit/step';
import { compareFingerprints, type Fingerprint } from '@basitax/core/inspect/fingerprint';
import { must } from '@basitax/core/must';
import type { Profile } from '@basitax/core/rules/profile-schema';
import { Refused } from '@basitax/core/said';
import { withAssets } from '@basitax/core/script/assets';
import type { Row } from '@basitax/core/table/cells';
import type { Revised } from '@basitax/core/work/revised';
import type { PlannedRecipe } from '@basitax/core/work/script-tasks';
import { QueryTypes, type Sequelize, type Transaction, UniqueConstraintError } from 'sequelize';
import { checkPaths } from '../assets/routes.ts';
import type { AssetStore } from '../assets/store.ts';
import { BatchChangeRow, BatchItemRow, BatchPlanRow, BatchRunRow, BatchTableRow } from '../db/batch-models.ts';
import { retried } from '../db/retry.ts';
import type { FileStore } from '../files/store.ts';
import { asProblem, HttpProblem } from '../http/problem.ts';
import { rulesForFile } from '../projects/projects.ts';
import type { Workplace } from '../work/desk.ts';
import { packed, unpacked } from './packed.ts';
import { settlePhase } from './phases.ts';
import { refuse, say } from './sentences.ts';

/** How long a claim holds without being renewed, in seconds, by the database's clock. */
const leaseSeconds = Math.max(1, Number(process.env.BATCH_LEASE ?? 20) || 20);
/** A file that ended whoever worked on it so many times is not tried again. */
const mostAttempts = 4;
/** Things that came into conflict of which both sides are kept. */
const mostPoints = 100;
/** How long one file may take. */
const limit = { ms: 120_000, say: say('too-long') } as const;

/**
 * A file that was claimed: nobody else works on it while the lease holds, and whoever held it before can write nothing
 * more.
 */
interface Claim {
  readonly runId: string;
  readonly fileId: string;
  readonly state: ItemState;
  readonly fence: number;
}

/** Thrown where the lease ran out and somebody else has the file. */
class ClaimLost extends Error {}

/**
 * Works on the files of batch runs, one after the other: plans, applies, rolls back. Any number of these, in any
 * processes, share one database; each may end at any moment, and what it had claimed is taken up by another when its
 * lease is over.
 */
export class BatchWorker {
  private readonly sequelize: Sequelize;
  private readonly store: FileStore;
  private readonly pool: Workplace;
  private readonly name: string;
  private readonly assets: AssetStore | undefined;

  constructor(sequelize: Sequelize, store: FileStore, pool: Workplace, name: string, assets?: AssetStore) {
    this.assets = assets;
    this.sequelize = sequelize;
    this.store = store;
    this.pool = pool;
    this.name = name;
  }

  /** Takes one file, if any is to be worked on, and does what is to be done. False where there was none. */
  async work(): Promise<boolean> {
    const claim = await this.claim();
    if (!claim) return false;
    const abort = new AbortController();
    const renew = setInterval(
      () =>
        void this.renew(claim).then(
          (held) => held || abort.abort(),
          // a database that is away for a moment: the lease still holds, and if it ends another takes the file up
          (error: unknown) => console.error(`batch worker: the lease could not be renewed: ${messageOf(error)}`),
        ),
      (leaseSeconds * 1000) / 3,
    );
    try {
      await this.doClaimed(claim, abort.signal);
    } catch (error) {
      if (error instanceof ClaimLost || abort.signal.aborted) return true;
      // a database that is gone for a moment is no fault of the file: its lease ends, and somebody takes it up again
      if (!(error instanceof HttpProblem || error instanceof Refused) && isConnection(error)) throw error;
      // what nobody foresaw is an error of ours, which whoever runs the server has to see
      const isForeseen = asProblem(error) !== undefined;
      if (!isForeseen) console.error(`batch worker: ${claim.state} failed`, error);
      await this.finish(claim, {
        state:
          claim.state === 'to-roll-back' ? 'kept' : claim.state === 'to-apply' && isForeseen ? 'conflict' : 'failed',
        why: messageOf(error),
      });
    } finally {
      clearInterval(renew);
    }
    await settlePhase(this.sequelize, claim.runId);
    return true;
  }

  private claim(): Promise<Claim | undefined> {
    return retried(() =>
      this.sequelize.transaction(async (transaction) => {
        const [found] = await this.sequelize.query<{
          run_id: string;
          file_id: string;
          state: ItemState;
          fence: number;
          attempts: number;
        }>(
          `SELECT run_id, file_id, state, fence, attempts FROM batch_items WHERE state IN ('to-roll-back', 'to-apply', 'waiting') AND (lease_until IS NULL OR lease_until < NOW(3)) LIMIT 1 FOR UPDATE SKIP LOCKED`,
          { transaction, type: QueryTypes.SELECT },
        );
        if (!found) return undefined;
        const claim = { runId: found.run_id, fileId: found.file_id, state: found.state, fence: found.fence + 1 };
        const isHopeless = found.attempts >= mostAttempts;
        await this.sequelize.query(
          `UPDATE batch_items SET fence = ?, attempts = attempts + 1, lease_until = NOW(3) + INTERVAL ${leaseSeconds} SECOND, worker = ?${isHopeless ? ", state = 'failed', why = ?, changed_at = NOW(3)" : ''} WHERE run_id = ? AND file_id = ?`,
          {
            transaction,
            type: QueryTypes.UPDATE,
            replacements: [
              claim.fence,
              this.name,
              ...(isHopeless ? [`Work on this file stopped ${found.attempts} times before it was done.`] : []),
              claim.runId,
              claim.fileId,
            ],
          },
        );
        return isHopeless ? undefined : claim;
      }),
    );
  }

  /** Holds a claim for longer. False where it is lost. */
  private async renew({ runId, fileId, fence }: Claim): Promise<boolean> {
    try {
      const [, count] = await this.sequelize.query(
        `UPDATE batch_items SET lease_until = NOW(3) + INTERVAL ${leaseSeconds} SECOND WHERE run_id = ? AND file_id = ? AND fence = ?`,
        {
          type: QueryTypes.UPDATE,
          replacements: [runId, fileId, fence],
        },
      );
      return count === 1;
    } catch (error) {
      // the lease says when it is over, whether or not that can be asked now
      if (isConnection(error)) return true;
      throw error;
    }
  }

  private async doClaimed(claim: Claim, signal: AbortSignal): Promise<void> {
    if (claim.state === 'waiting') await this.plan(claim, signal);
    else if (claim.state === 'to-apply') await this.apply(claim, signal);
    else await this.rollBack(claim, signal);
  }

  private async run(id: string): Promise<BatchRunRow & { readonly parsed: Recipe }> {
    const row = must(await BatchRunRow.findByPk(id));
    return Object.assign(row, { parsed: recipeSchema.parse(JSON.parse(row.recipe)) });
  }

  /** Does the recipe on a copy, and keeps what came of it. */
  private async plan(claim: Claim, signal: AbortSignal): Promise<void> {
    const run = await this.run(claim.runId);
    const base = await this.store.text(claim.fileId, 'head');
    const wanted = run.parsed.steps.flatMap((step) => (step.do === 'upgrade' ? [step.to] : []));
    const catalogues: Catalogue[] = [];
    for (const one of wanted) catalogues.push(await this.store.catalogues.get(one));
    const known = await this.store.knownOf(claim.fileId, base.number);
    const profile = await profileFor(claim.fileId);
    const { assets } = this;
    const table = await BatchTableRow.findOne({ where: { runId: claim.runId, fileId: claim.fileId } });
    const rows = table && (await unpacked<Row[]>(table.content));
    const planned = await withAssets(
      (facts) =>
        this.pool.run(
          'recipe',
          {
            recipe: run.parsed,
            seed: seedOf(run.seed, claim.fileId),
            catalogues,
            known,
            profile,
            ...(facts && { assets: facts }),
            ...(rows && { table: rows }),
          },
          { doc: base.text, catalogue: base.catalogue, signal, limit },
        ),
      assets && ((paths) => checkPaths(assets, paths)),
    );
    const state: ItemState = planned.outcome.result === 'changed' ? 'planned' : planned.outcome.result;
    const [revised, outcome] = [await packed(planned.revised ?? null), await packed(planned.outcome)];
    const fields = {
      state,
      base: base.number,
      title: base.title,
      summary: JSON.stringify(summaryOf(planned)),
      why: planned.outcome.why.slice(0, 2000),
      leftOut: 0,
      conflicts: null,
    };
    const at = { runId: claim.runId, fileId: claim.fileId };
    const groups = planned.groups.map(({ key, what, of, said, things, unit }) => ({
      ...{ ...at, changeKey: key, what: what.slice(0, 200), kinds: of.slice(0, 400), said: said.slice(0, 400) },
      ...{ things, unit, isLeft: false },
    }));
    await retried(() =>
      this.sequelize.transaction(async (transaction) => {
        await this.close(claim, fields, transaction);
        await BatchPlanRow.destroy({ where: at, transaction });
        await BatchChangeRow.destroy({ where: at, transaction });
        for (let i = 0; i < groups.length; i += 500)
          await BatchChangeRow.bulkCreate(groups.slice(i, i + 500), { transaction });
        await this.sequelize.query('INSERT INTO batch_plans (run_id, file_id, revised, outcome) VALUES (?, ?, ?, ?)', {
          transaction,
          type: QueryTypes.INSERT,
          replacements: [claim.runId, claim.fileId, revised, outcome],
        });
      }),
    );
  }

  /** Stores what was planned as a revision; where the file changed since, brought over that. */
  private async apply(claim: Claim, signal: AbortSignal): Promise<void> {
    const run = await this.run(claim.runId);
    const plan = await BatchPlanRow.findOne({ where: { runId: claim.runId, fileId: claim.fileId } });
    const item = await BatchItemRow.findOne({ where: { runId: claim.runId, fileId: claim.fileId } });
    const revised = plan && (await unpacked<Revised | null>(plan.revised));
    if (!revised || item?.base === null || item?.base === undefined) throw refuse('no-plan');
    const isUpgrade = run.parsed.steps.some((step) => step.do === 'upgrade');
    const wanted = await this.accepted(claim, run.parsed, item.base, revised, signal);
    if (!wanted) return;
    await this.storeRevision(
      claim,
      {
        base: item.base,
        revised: wanted,
        isRepinned: isUpgrade,
        partly: false,
        message: run.message,
        author: run.author,
        part: 'apply',
      },
      signal,
    );
  }

  /** What of a plan was accepted; undefined where nothing of it can be stored, which is written then. */
  private async accepted(
    claim: Claim,
    recipe: Recipe,
    base: number,
    revised: Revised,
    signal: AbortSignal,
  ): Promise<Revised | undefined> {
    const rows = await BatchChangeRow.findAll({
      where: { runId: claim.runId, fileId: claim.fileId, isLeft: true },
    });
    if (rows.length === 0) return revised;
    const { text, catalogue } = await this.store.text(claim.fileId, base);
    const known = await this.store.knownOf(claim.fileId, base);
    const profile = await profileFor(claim.fileId);
    const part = await this.pool.run(
      'part',
      { recipe, edit: revised.edit satisfies Edit, left: rows.map((row) => row.changeKey), known, profile },
      { doc: text, catalogue, signal, limit },
    );
    if ('revised' in part) {
      await this.summarize(claim, part.revised, known?.fingerprint);
      return part.revised;
    }
    if ('nothing' in part) await this.finish(claim, { state: 'left-out', why: say('all-left-out').message });
    else if ('stopped' in part)
      await this.finish(claim, { state: 'stopped', why: say('part-stopped', { why: part.stopped }).message });
    else await this.finish(claim, { state: 'failed', why: say('part-refused', { why: part.refusal }).message });
    return undefined;
  }

  /** What is listed of a file says what is applied, where that is a part of its plan. */
  private async summarize(claim: Claim, revised: Revised, before: Fingerprint | undefined): Promise<void> {
    const at = { runId: claim.runId, fileId: claim.fileId };
    const item = must(await BatchItemRow.findOne({ where: at }));
    const whole = itemSummarySchema.parse(JSON.parse(must(item.summary)));
    const summary: ItemSummary = {
      ...whole,
      counts: countsOf(revised.edit),
      ...(before && { verdict: compareFingerprints(before, revised.fingerprint) }),
      ...(revised.judged && { score: { before: whole.score.before, after: revised.judged.score } }),
    };
    await BatchItemRow.update({ summary: JSON.stringify(summary) }, { where: at });
  }

  /** Stores the inverse of what was applied; where the file changed since, of what can be taken back. */
  private async rollBack(claim: Claim, signal: AbortSignal): Promise<void> {
    const run = await this.run(claim.runId);
    const item = await BatchItemRow.findOne({ where: { runId: claim.runId, fileId: claim.fileId } });
    const applied = item?.applied ?? undefined;
    const edit = applied === undefined ? undefined : await this.store.editOf(claim.fileId, applied);
    if (applied === undefined || !edit) throw refuse('nothing-changed');
    const base = await this.store.text(claim.fileId, applied);
    const before = await this.store.text(claim.fileId, applied - 1);
    const back = invert(edit);
    const isRepinned = base.catalogue.id !== before.catalogue.id || base.catalogue.version !== before.catalogue.version;
    const change = isRepinned ? { become: before.text } : { edit: back };
    const revised = await this.pool.run(
      'revise',
      { ...change, later: true },
      { doc: base.text, catalogue: before.catalogue, signal, limit },
    );
    if ('refusal' in revised) throw refuse('not-stored', { why: revised.refusal });
    await this.storeRevision(
      claim,
      {
        base: applied,
        revised,
        isRepinned,
        partly: true,
        message: `Rolled back: ${run.message}`,
        author: run.author,
        part: 'back',
      },
      signal,
    );
  }

  private async storeRevision(
    claim: Claim,
    wanted: {
      base: number;
      revised: Revised;
      isRepinned: boolean;
      partly: boolean;
      message: string;
      author: string;
      part: 'apply' | 'back';
    },
    signal: AbortSignal,
  ): Promise<void> {
    const runKey = `${claim.runId}:${wanted.part}`;
    for (;;) {
      const { head } = await this.store.file(claim.fileId);
      const brought =
        head === wanted.base
          ? { revised: wanted.revised, conflicts: [], points: [], refusal: undefined }
          : await this.brought(claim, head, wanted, signal);
      if (!brought.revised)
        return this.finish(claim, {
          state: wanted.part === 'apply' ? 'conflict' : 'kept',
          why: brought.refusal ?? conflictsSaid(brought.conflicts),
          conflicts: brought.points.length === 0 ? null : JSON.stringify(brought.points.slice(0, mostPoints)),
        });
      const pack = await this.store.pack(brought.revised, wanted.isRepinned);
      try {
        await retried(() =>
          this.sequelize.transaction(async (transaction) => {
            const done: Partial<BatchItemRow> =
              wanted.part === 'apply'
                ? { state: 'applied', applied: head + 1 }
                : { state: 'rolled-back', rolledBack: head + 1 };
            await this.close(
              claim,
              { ...done, why: brought.conflicts.length === 0 ? '' : `Not all: ${conflictsSaid(brought.conflicts)}` },
              transaction,
            );
            await this.store.addRevision(
              claim.fileId,
              head,
              pack,
              { author: wanted.author, message: wanted.message, runKey },
              transaction,
            );
          }),
        );
        return;
      } catch (error) {
        // another one stored it already, and ended before it could say so
        if (error instanceof UniqueConstraintError) throw new ClaimLost();
        // somebody saved between the question and the answer: ask again
        if (!(error instanceof HttpProblem && error.status === 412)) throw error;
      }
    }
  }

  private async brought(
    claim: Claim,
    head: number,
    { base, revised, isRepinned, partly }: { base: number; revised: Revised; isRepinned: boolean; partly: boolean },
    signal: AbortSignal,
  ): Promise<{
    revised: Revised | undefined;
    conflicts: readonly string[];
    points: readonly Point[];
    refusal?: string | undefined;
  }> {
    const none = { revised: undefined, conflicts: [], points: [] };
    if (isRepinned) return none;
    const [then, now] = [await this.store.text(claim.fileId, base), await this.store.text(claim.fileId, head)];
    if (then.catalogue.id !== now.catalogue.id || then.catalogue.version !== now.catalogue.version) return none;
    return this.pool.run(
      'bring',
      { base: then.text, edit: revised.edit satisfies Edit, partly, profile: await profileFor(claim.fileId) },
      { doc: now.text, catalogue: now.catalogue, signal, limit },
    );
  }

  /** Writes how a claimed file ended. Throws ClaimLost where somebody else has it by now. */
  private async close(claim: Claim, fields: Partial<BatchItemRow>, transaction: Transaction): Promise<void> {
    const [row] = await this.sequelize.query<{ fence: number; state: string }>(
      'SELECT fence, state FROM batch_items WHERE run_id = ? AND file_id = ? FOR UPDATE',
      {
        transaction,
        type: QueryTypes.SELECT,
        replacements: [claim.runId, claim.fileId],
      },
    );
    // a run that was cancelled meanwhile wants nothing any more
    if (row?.fence !== claim.fence || row.state !== claim.state) throw new ClaimLost();
    await BatchItemRow.update(
      { ...fields, leaseUntil: null, attempts: 0, changedAt: new Date() },
      { where: { runId: claim.runId, fileId: claim.fileId }, transaction },
    );
  }

  private async finish(claim: Claim, fields: Partial<BatchItemRow>): Promise<void> {
    await retried(() => this.sequelize.transaction((transaction) => this.close(claim, fields, transaction)));
  }
}

/** The house rules by which the findings of a file are counted. */
const profileFor = async (file: string): Promise<Profile> => (await rulesForFile(file)).profile;

/** Ids of what a run makes start elsewhere in each file. */
const seedOf = (seed: number, file: string): number =>
  createHash('sha256').update(`${seed} ${file}`).digest().readInt32LE(0);

const messageOf = (error: unknown): string => (error instanceof Error ? error.message : String(error)).slice(0, 2000);
const isConnection = (error: unknown): boolean =>
  /^Sequelize(Connection|Database|HostNot|Timeout|AccessDenied)/.test((error as Error | null)?.name ?? '');

function conflictsSaid(conflicts: readonly string[]): string {
  if (conflicts.length === 0) return 'Somebody changed the file in the meantime, and the changes cannot be combined.';
  const first = conflicts.slice(0, 3);
  const rest = conflicts.length - first.length;
  return `Changed in the meantime: ${first.join(' ')}${rest > 0 ? ` And ${rest} more.` : ''}`.slice(0, 2000);
}

function summaryOf({ outcome }: PlannedRecipe): ItemSummary {
  const count = (severity: string): number => outcome.findings.filter((item) => item.severity === severity).length;
  return {
    verdict: outcome.verdict,
    score: outcome.score,
    counts: outcome.counts,
    findings: { error: count('error'), warning: count('warning'), info: count('info') },
    lines: outcome.log.length,
    outputs: outcome.outputs.length,
  };
}
