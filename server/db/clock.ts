import { literal } from 'sequelize';

/**
 * A time by the clock of the database, so many milliseconds from now: servers share it, while their own clocks may be
 * minutes apart.
 */
export const databaseTime = (ms = 0): ReturnType<typeof literal> =>
  literal(`(NOW(3) + INTERVAL ${Math.round(ms * 1000)} MICROSECOND)`);
