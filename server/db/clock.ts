import { must } from '@basitax/core/must';
import { literal, QueryTypes, type Sequelize, type Transaction } from 'sequelize';

/**
 * A time by the clock of the database, so many milliseconds from now: servers share it, while their own clocks may be
 * minutes apart.
 */
export const databaseTime = (ms = 0): ReturnType<typeof literal> =>
  literal(`(NOW(3) + INTERVAL ${Math.round(ms * 1000)} MICROSECOND)`);

/** What time it is by the clock of the database. */
export async function databaseNow(sequelize: Sequelize, transaction?: Transaction): Promise<Date> {
  const [row] = await sequelize.query<{ now: Date }>('SELECT NOW(3) AS now', {
    type: QueryTypes.SELECT,
    ...(transaction && { transaction }),
  });
  return must(row).now;
}
