import { type ChildProcess, fork } from 'node:child_process';
import { program } from '@basitax/threads/program.mjs';
import type { Logger } from 'pino';
import { QueryTypes, type Sequelize } from 'sequelize';
import { Ticker } from '../work/ticker.ts';

/** How a worker process is started: its own part keeps little, the work is done by its thread. */
export const workerFlags: readonly string[] = ['--max-old-space-size=100'];

/** How often is looked whether there is something to do, in milliseconds. */
const pace = 1000;

/**
 * Starts worker processes while batch runs want something done, and again where one ended. Each server has its own;
 * they share the work through the database.
 */
export class Crew {
  private readonly children = new Set<ChildProcess>();
  private readonly sequelize: Sequelize;
  private readonly url: string;
  private readonly size: number;
  private readonly log: Logger;
  private readonly ticker: Ticker;
  private isOpen = true;
  private program: string | undefined;

  constructor(sequelize: Sequelize, url: string, size: number, log: Logger) {
    this.sequelize = sequelize;
    this.url = url;
    this.size = size;
    this.log = log;
    const failed = (error: unknown) => this.log.warn({ err: error }, 'the crew could not ask for work');
    this.ticker = new Ticker(pace, () => this.start(), failed);
  }

  private async start(): Promise<void> {
    if (this.children.size >= this.size) return;
    const [waiting] = await this.sequelize.query<{ count: number }>(
      `SELECT COUNT(*) AS count FROM batch_items WHERE state IN ('waiting', 'to-apply', 'to-roll-back') AND (lease_until IS NULL OR lease_until < NOW(3))`,
      { type: QueryTypes.SELECT },
    );
    if (Number(waiting?.count ?? 0) === 0) return;
    // where it cannot be made now, the next look tries again
    this.program ??= await program('worker-main', 'server/batch/worker-main.ts', 'server/dist');
    while (this.isOpen && this.children.size < Math.min(this.size, Number(waiting?.count))) this.fork(this.program);
  }

  private fork(script: string): void {
    const child = fork(script, { execArgv: [...workerFlags], env: { ...process.env, DATABASE_URL: this.url } });
    this.children.add(child);
    child.on('exit', (code, signal) => {
      this.children.delete(child);
      if (code !== 0) this.log.warn({ code, signal }, 'a batch worker ended');
    });
    child.on('error', (error) => this.log.error({ err: error }, 'a batch worker could not be started'));
  }

  async close(): Promise<void> {
    this.isOpen = false;
    await this.ticker.close();
    for (const child of this.children) child.kill('SIGTERM');
  }
}
