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

/** Waits until the database is not exchanging tables any more: whoever told it to may be gone. */
export async function exchanged(url: string): Promise<void> {
  const { hostname, port, username, password } = new URL(url);
  const database = await createConnection({ host: hostname, port: Number(port), user: username, password });
  const busy = `SELECT COUNT(*) AS count FROM information_schema.processlist WHERE info LIKE '%RENAME TABLE%' AND id <> CONNECTION_ID()`;
  do await new Promise((done) => setTimeout(done, 300));
  while (Number(((await database.query(busy)) as { count: bigint }[])[0]!.count) > 0);
  await database.end();
}
