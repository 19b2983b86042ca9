import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { problemSchema } from '@basitax/api/problem';
import { writeDoc } from '@basitax/core/document/file';
import { demoFiles } from '@basitax/demo/files';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
// @ts-expect-error plain script that has to run before anything is installed
import { startMariadb } from '../scripts/mariadb.mjs';
import { openFile, saveLabel } from './tests/acts.ts';
import { type Client, startTeam, type Team } from './tests/team.ts';

interface Database {
  readonly url: string;
  readonly pid: number;
  stop(): Promise<void>;
}

let folder: string;
let database: Database;
let team: Team;
let editor: Client;

async function start(options: readonly string[]): Promise<void> {
  folder = mkdtempSync(join(tmpdir(), 'basitax-trouble-'));
  database = await startMariadb(join(folder, 'db'), { options });
  team = await startTeam(database.url);
  editor = await team.as('editor');
}
async function stop(): Promise<void> {
  await team.close();
  await database.stop();
  rmSync(folder, { recursive: true, force: true });
}

const open = () => openFile(editor, 'tide-cues');
const problemOf = async (response: Response) => problemSchema.parse(await response.json());

describe('a database that is lost', () => {
  beforeAll(() => start([]), 60_000);
  afterAll(stop, 60_000);

  it('is said in a sentence, by every kind of request, and everything that was accepted is there when it is back', async () => {
    const before = await open();
    expect((await saveLabel(editor, before, 0, 'Before the fall')).status).toBe(201);
    const then = await open();
    process.kill(database.pid, 'SIGKILL');
    for (const ask of [
      () => saveLabel(editor, then, 0, 'While it is away'),
      () => editor.send('GET', '/api/files'),
      () => editor.send('GET', '/api/files/tide-cues/revisions/head'),
      () => editor.send('GET', '/healthz'),
    ]) {
      const response = await ask();
      expect([response.status, response.headers.get('retry-after')]).toEqual([503, '5']);
      expect(await problemOf(response)).toMatchObject({
        type: '/problems/database-away',
        title: 'The database does not answer',
        detail: expect.stringContaining('Everything saved before is kept'),
      });
    }
    database = await startMariadb(join(folder, 'db'), { port: Number(new URL(database.url).port) });
    // the session goes on, and so does the work
    const now = await open();
    expect([now.number, now.nodes[0]!.label]).toEqual([before.number + 1, 'Before the fall']);
    expect((await editor.json('GET', '/api/files/tide-cues')).head.message).toBe('Before the fall');
    expect((await saveLabel(editor, now, 0, 'When it is back')).status).toBe(201);
    await team.judging.settled();
    expect((await editor.json('GET', '/api/files/tide-cues')).head.measures.score).toBeGreaterThan(0);
  }, 90_000);
});

/** MariaDB with one file for all, that grows to so many megabytes. */
const small = (mb: number): readonly string[] => [
  '--innodb-file-per-table=0',
  `--innodb-data-file-path=ibdata1:12M:autoextend:max:${mb}M`,
];

describe('a database without room for more', () => {
  // MariaDB itself, told that its one file may grow no further: it says what it says on a full disk
  beforeAll(() => start(small(18)), 60_000);
  afterAll(stop, 60_000);

  it('is said in a sentence; what was accepted is there, can be read, and goes on when there is room', async () => {
    const text = writeDoc(demoFiles.find((file) => file.title === 'Kelp growth')!.build());
    const kept: string[] = [];
    let refused: Response | undefined;
    for (let i = 0; i < 300 && !refused; i++) {
      const response = await editor.send('POST', `/api/files?name=kelp-${i}.graph.json`, { text });
      if (response.status === 201) kept.push(((await response.json()) as { file: { id: string } }).file.id);
      else refused = response;
    }
    expect([refused?.status, kept.length > 3]).toEqual([507, true]);
    expect(await problemOf(refused!)).toMatchObject({
      type: '/problems/disk-full',
      title: 'The disk of the database is full',
      detail: expect.stringContaining('everything saved before can still be read'),
    });
    // nothing of what was refused stands there by half, and all else can be read
    const listed = (await editor.json('GET', '/api/files')).files as {
      id: string;
      head: { measures: { nodes: number } };
    }[];
    expect(listed.map((file) => file.id).sort()).toEqual([...kept, 'dome-blend', 'tide-cues'].sort());
    for (const id of kept) {
      const doc = JSON.parse(await (await editor.send('GET', `/api/files/${id}/revisions/head`)).text()) as {
        nodes: unknown[];
      };
      expect(doc.nodes.length).toBe(listed.find((file) => file.id === id)!.head.measures.nodes);
    }
    // room is made, as when a disk is cleared out, and the database started again
    await database.stop();
    database = await startMariadb(join(folder, 'db'), { port: Number(new URL(database.url).port), options: small(64) });
    const seen = await open();
    expect((await saveLabel(editor, seen, 0, 'There is room')).status).toBe(201);
    expect((await open()).number).toBe(seen.number + 1);
  }, 180_000);
});
