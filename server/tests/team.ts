import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import type { Role } from '@basitax/api/roles';
import { writeDoc } from '@basitax/core/document/file';
import { catalogue } from '@basitax/demo/catalogue';
import { demoFiles } from '@basitax/demo/files';
import { startAssetStore } from '@basitax/demo/standins/asset-store';
import { startRenderService } from '@basitax/demo/standins/render-service';
import { Pool } from '@basitax/threads/pool';
import { createConnection } from 'mariadb';
import { pino } from 'pino';
import type { Sequelize } from 'sequelize';
import { createApp } from '../app.ts';
import { httpAssetStore } from '../assets/store.ts';
import { hashPassword } from '../auth/hashing.ts';
import { connect } from '../db/connect.ts';
import { User } from '../db/models.ts';
import { Judging } from '../files/judging.ts';
import { FileStore } from '../files/store.ts';
import { httpRenderService } from '../render/service.ts';
import { demoPassword, demoPeople } from '../seed.ts';

let count = 0;

/** A database of its own on the test server. */
export async function freshDatabase(): Promise<string> {
  const url = new URL(process.env.TEST_DATABASE_URL!);
  const name = `test_${process.pid}_${Date.now()}_${count++}`;
  const admin = await createConnection({
    host: url.hostname,
    port: Number(url.port),
    user: url.username,
    password: url.password,
  });
  await admin.query(`CREATE DATABASE ${name} CHARACTER SET utf8mb4 COLLATE utf8mb4_bin`);
  await admin.end();
  url.pathname = `/${name}`;
  return url.href;
}

export class Client {
  private readonly base: string;
  private jar = new Map<string, string>();
  constructor(base: string) {
    this.base = base;
  }

  /** The same person with the same session at another server. */
  at(base: string): Client {
    const other = new Client(base);
    other.jar = new Map(this.jar);
    return other;
  }

  /** What the browser of this person sends along. */
  get cookies(): string {
    return [...this.jar].map(([name, value]) => `${name}=${value}`).join('; ');
  }

  async send(
    method: string,
    path: string,
    options: { json?: unknown; text?: string; headers?: Record<string, string> } = {},
  ): Promise<Response> {
    const response = await fetch(this.base + path, {
      method,
      headers: {
        ...(this.jar.size > 0 && { Cookie: this.cookies }),
        ...(options.json !== undefined && { 'Content-Type': 'application/json' }),
        ...options.headers,
      },
      ...(options.json !== undefined && { body: JSON.stringify(options.json) }),
      ...(options.text !== undefined && { body: options.text }),
    });
    for (const set of response.headers.getSetCookie()) {
      const [, name, value] = /^([^=]+)=([^;]*)/.exec(set) as unknown as [string, string, string];
      if (value === '') this.jar.delete(name);
      else this.jar.set(name, value);
    }
    return response;
  }

  async json(
    method: string,
    path: string,
    options: Parameters<Client['send']>[2] & { status?: number } = {},
    // biome-ignore lint/suspicious/noExplicitAny: tests read what they assert on
  ): Promise<any> {
    const response = await this.send(method, path, options);
    const text = await response.text();
    if (response.status !== (options.status ?? 200))
      throw new Error(`${method} ${path} gave ${response.status}: ${text.slice(0, 500)}`);
    return text === '' ? undefined : JSON.parse(text);
  }
}

export interface Team {
  readonly base: string;
  readonly sequelize: Sequelize;
  readonly store: FileStore;
  readonly pool: Pool;
  readonly judging: Judging;
  /** Signed in with a role of the demo; at another server, where its address is given. */
  as(role: Role | 'nobody', at?: string): Promise<Client>;
  /** One more server over the same database. Gives its address. */
  another(): Promise<string>;
  close(): Promise<void>;
}

/**
 * The whole server on a database of its own, or on one that is given and empty, with the demo people and the two
 * smallest demo files.
 */
export async function startTeam(url?: string): Promise<Team> {
  const sequelize = await connect(url ?? (await freshDatabase()));
  const pool = new Pool(1);
  const store = new FileStore(sequelize, pool);
  await store.catalogues.add(catalogue);
  const passwordHash = await hashPassword(demoPassword);
  for (const person of demoPeople) await User.create({ id: person.login, ...person, passwordHash });
  for (const file of demoFiles.slice(0, 2))
    await store.importFile(`${file.title}.graph.json`, writeDoc(file.build()), 'Lead TD', { id: file.slug });
  const judging = new Judging(sequelize, store, pino({ level: 'silent' }));
  const [assets, render] = [await startAssetStore(), await startRenderService()];
  const servers: Server[] = [];
  const listen = async (): Promise<string> => {
    const log = pino({ level: 'silent' });
    const server = createServer(
      createApp({
        sequelize,
        store,
        pool,
        assets: httpAssetStore(assets.address),
        render: httpRenderService(render.address),
        log,
        webhookHosts: ['127.0.0.1'],
        strict: true,
      }).callback(),
    );
    servers.push(server);
    await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
    return `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
  };
  const base = await listen();
  return {
    base,
    sequelize,
    store,
    pool,
    judging,
    another: listen,
    async as(role, at = base) {
      const client = new Client(at);
      if (role !== 'nobody')
        await client.json('POST', '/api/session', { json: { login: role, password: demoPassword } });
      return client;
    },
    async close() {
      for (const server of servers) server.closeAllConnections();
      await assets.stop();
      await render.stop();
      for (const server of servers) await new Promise((done) => server.close(done));
      await judging.close();
      pool.close();
      await sequelize.close();
    },
  };
}
