import type { Judged } from '@basitax/core/work/revised';
import { Runner } from '@basitax/core/work/runner';
import { openThread } from '@basitax/threads/pool';
import type { Logger } from 'pino';
import { QueryTypes, type Sequelize } from 'sequelize';
import { databaseTime } from '../db/clock.ts';
import { PendingRow } from '../db/models.ts';
import { retried } from '../db/retry.ts';
import { rulesForFile } from '../projects/projects.ts';
import { runJudgingHooks } from './hooks.ts';
import type { FileStore } from './store.ts';

/**
 * How long a server takes a revision on for, how often it looks for what others left, in milliseconds; and how often
 * one is tried.
 */
const lease = 30_000;
const pace = 5000;
const mostTries = 3;

interface Claim {
  readonly fileId: string;
  readonly number: number;
}

/**
 * Measures revisions and asks the house rules of them after they were stored, one after the other, behind all other
 * work of the machine. What waits stands in the database, so that nothing is forgotten when a server ends, and several
 * servers share it.
 */
export class Judging {
  private readonly sequelize: Sequelize;
  private readonly store: FileStore;
  private readonly log: Pick<Logger, 'warn'>;
  private readonly runner = new Runner(() => openThread(undefined, true));
  private timer: ReturnType<typeof setTimeout> | undefined;
  private running: Promise<void> | undefined;
  private isWanted = false;
  private isOpen = true;

  constructor(sequelize: Sequelize, store: FileStore, log: Pick<Logger, 'warn'>) {
    this.sequelize = sequelize;
    this.store = store;
    this.log = log;
    store.onPending = () => this.look();
    this.look();
  }

  /** Looks now, and again when what is under way is done. */
  private look(): void {
    if (!this.isOpen) return;
    clearTimeout(this.timer);
    this.isWanted = true;
    this.running ??= this.work().finally(() => {
      this.running = undefined;
      if (this.isOpen) this.timer = setTimeout(() => this.look(), this.isWanted ? 0 : pace);
    });
  }

  private async work(): Promise<void> {
    try {
      while (this.isOpen) {
        this.isWanted = false;
        const claim = await this.claimed();
        if (!claim) return;
        await this.judge(claim).catch(
          (error: unknown) => this.isOpen && this.log.warn({ err: error, ...claim }, 'a revision could not be judged'),
        );
      }
    } catch (error) {
      // the database is away: the next look tries again
      if (this.isOpen) this.log.warn({ err: error }, 'could not ask what is to be judged');
    }
  }

  /** Takes on what was stored last and nobody has taken on. What failed too often stays unjudged. */
  private claimed(): Promise<Claim | undefined> {
    return retried(() =>
      this.sequelize.transaction(async (transaction) => {
        const [row] = await this.sequelize.query<Claim & { tries: number }>(
          `SELECT file_id AS fileId, number, tries FROM pending_revisions WHERE (leased_until IS NULL OR leased_until < NOW(3)) AND tries < ?
           ORDER BY queued_at DESC LIMIT 1 FOR UPDATE SKIP LOCKED`,
          { replacements: [mostTries], type: QueryTypes.SELECT, transaction },
        );
        if (!row) return undefined;
        const { tries, ...claim } = row;
        await PendingRow.update(
          { leasedUntil: databaseTime(lease), tries: tries + 1 },
          { where: { ...claim }, transaction },
        );
        return claim;
      }),
    );
  }

  private async judge({ fileId, number }: Claim): Promise<void> {
    const { text, catalogue } = await this.store.text(fileId, number, 'anywhere');
    const { profile } = await rulesForFile(fileId);
    const judged: Judged = await this.runner.run('judge', { profile }, { doc: text, catalogue });
    await retried(() =>
      this.sequelize.transaction(async (transaction) => {
        // gone meanwhile with its file, or judged elsewhere
        if (await PendingRow.findOne({ where: { fileId, number }, transaction, lock: transaction.LOCK.UPDATE }))
          await runJudgingHooks({ fileId, number, judged }, transaction);
      }),
    );
  }

  /** Resolves when nothing waits any more, here or elsewhere. */
  async settled(): Promise<void> {
    while (this.isOpen && (await PendingRow.count()) > 0) {
      this.look();
      await new Promise((done) => setTimeout(done, 20));
    }
  }

  async close(): Promise<void> {
    this.isOpen = false;
    clearTimeout(this.timer);
    this.runner.close();
    await this.running;
  }
}
