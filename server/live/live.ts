import { type Live, type Present, type Standing, standingSchema } from '@basitax/api/live';
import type { Person } from '@basitax/api/people';
import { must } from '@basitax/core/must';
import { Op, QueryTypes, type Sequelize } from 'sequelize';
import { databaseTime } from '../db/clock.ts';
import { PresenceRow } from '../db/team-models.ts';
import { HttpProblem } from '../http/problem.ts';

/**
 * How often the database is asked how files stand that somebody looks at, and how long somebody counts who says nothing
 * more, in milliseconds.
 */
const pace = 400;
const silence = 12_000;

interface Watcher {
  readonly file: string;
  tell(live: Live): void;
  last: string;
}

/**
 * Who is in which file, and which revision is its newest. It lies in the database, so that any number of servers tell
 * the same; each asks once for all that its own watchers look at, and tells them what changed.
 */
export class LiveFiles {
  private readonly sequelize: Sequelize;
  private readonly failed: (error: unknown) => void;
  private readonly watchers = new Set<Watcher>();
  private timer: NodeJS.Timeout | undefined;
  private isAsking = false;

  constructor(sequelize: Sequelize, failed: (error: unknown) => void) {
    this.sequelize = sequelize;
    this.failed = failed;
  }

  /** Calls `tell` with how a file stands, now and each time that it changes, until what is returned is called. */
  watch(file: string, tell: (live: Live) => void): () => void {
    const watcher: Watcher = { file, tell, last: '' };
    this.watchers.add(watcher);
    this.timer ??= setInterval(() => void this.ask(), pace);
    this.timer.unref();
    void this.ask();
    return () => {
      this.watchers.delete(watcher);
      if (this.watchers.size > 0 || !this.timer) return;
      clearInterval(this.timer);
      this.timer = undefined;
    };
  }

  private async ask(): Promise<void> {
    if (this.isAsking || this.watchers.size === 0) return;
    this.isAsking = true;
    try {
      const stand = await this.stand([...new Set([...this.watchers].map((watcher) => watcher.file))]);
      for (const watcher of this.watchers) {
        const live = stand.get(watcher.file);
        const text = live ? JSON.stringify(live) : '';
        if (!live || text === watcher.last) continue;
        watcher.last = text;
        watcher.tell(live);
      }
    } catch (error) {
      // asked again in a moment; a database that is away is said by whatever else is asked of it
      this.failed(error);
    } finally {
      this.isAsking = false;
    }
  }

  private async stand(files: readonly string[]): Promise<ReadonlyMap<string, Live>> {
    const heads = await this.sequelize.query<{
      id: string;
      head: number;
      author: string;
      message: string;
      trashed_at: Date | null;
    }>(
      'SELECT f.id, f.head, f.trashed_at, r.author, r.message FROM files f JOIN revisions r ON r.file_id = f.id AND r.number = f.head WHERE f.id IN (?)',
      { replacements: [files], type: QueryTypes.SELECT },
    );
    const rows = await PresenceRow.findAll({
      where: { fileId: [...files], seenAt: { [Op.gt]: databaseTime(-silence) } },
      order: [
        ['name', 'ASC'],
        ['tab', 'ASC'],
      ],
    });
    const people = new Map<string, Present[]>();
    for (const { fileId, tab, userId, name, standing } of rows)
      people.set(fileId, [
        ...(people.get(fileId) ?? []),
        { tab, person: userId, name, ...standingSchema.parse(JSON.parse(standing)) },
      ]);
    return new Map(
      heads.map(({ id, head, author, message, trashed_at }) => [
        id,
        { head: { number: head, author, message }, trashed: trashed_at !== null, people: people.get(id) ?? [] },
      ]),
    );
  }
}

/** Says where a tab stands in a file; has to be said again before it is taken for gone. */
export async function stand(file: string, tab: string, person: Person, standing: Standing): Promise<void> {
  const known = await PresenceRow.findByPk(tab, { attributes: ['userId'] });
  if (known && known.userId !== person.id) throw new HttpProblem(403, 'Not allowed', 'This tab is somebody else’s.');
  await must(PresenceRow.sequelize).query(
    `INSERT INTO presence (tab, file_id, user_id, name, standing, seen_at) VALUES (:tab, :file, :user, :name, :standing, NOW(3))
     ON DUPLICATE KEY UPDATE file_id = :file, user_id = :user, name = :name, standing = :standing, seen_at = NOW(3)`,
    { replacements: { tab, file, user: person.id, name: person.name, standing: JSON.stringify(standing) } },
  );
}

/** A tab has closed the file. What is long gone goes along. */
export async function leave(tab: string, person: Person): Promise<void> {
  await PresenceRow.destroy({
    where: { [Op.or]: [{ tab, userId: person.id }, { seenAt: { [Op.lt]: databaseTime(-10 * silence) } }] },
  });
}
