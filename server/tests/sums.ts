import { createConnection } from 'mariadb';

/** A number for each table that is another one when a row is. */
export async function sums(address: string): Promise<Record<string, unknown>> {
  const url = new URL(address);
  const database = await createConnection({
    host: url.hostname,
    port: Number(url.port),
    user: url.username,
    password: url.password,
    database: url.pathname.slice(1),
  });
  const tables = (await database.query(
    'SELECT table_name AS name FROM information_schema.tables WHERE table_schema = DATABASE() ORDER BY table_name',
  )) as { name: string }[];
  const found: Record<string, unknown> = {};
  for (const { name } of tables)
    found[name] = ((await database.query(`CHECKSUM TABLE \`${name}\``)) as { Checksum: bigint }[])[0]!.Checksum;
  await database.end();
  return found;
}
