import { Sequelize } from 'sequelize';
import { SequelizeStorage, Umzug } from 'umzug';
import { migrations } from './migrations.ts';
import { bindModels } from './models.ts';

/**
 * Opens a database whose tables are up to date, and binds the models. `mysql:` addresses are taken too. Nothing is
 * asked of it yet.
 */
export function open(url: string): Sequelize {
  const sequelize = new Sequelize(url.replace(/^mysql:/, 'mariadb:'), {
    dialect: 'mariadb',
    logging: false,
    pool: { max: 8, min: 0, idle: 10_000, acquire: 20_000 },
    timezone: '+00:00',
    dialectOptions: { bigIntAsNumber: true },
    define: { charset: 'utf8mb4', collate: 'utf8mb4_bin' },
  });
  bindModels(sequelize);
  return sequelize;
}

/** The same with the tables brought up to date. */
export async function connect(url: string, onMigrated: (name: string) => void = () => {}): Promise<Sequelize> {
  const sequelize = open(url);
  await sequelize.authenticate();
  const umzug = new Umzug({
    migrations,
    context: sequelize.getQueryInterface(),
    storage: new SequelizeStorage({ sequelize }),
    logger: undefined,
  });
  for (const done of await umzug.up()) onMigrated(done.name);
  return sequelize;
}
