import { fileSchema } from '@basitax/api/files';
import { healthSchema } from '@basitax/api/health';
import { scoreVersion } from '@basitax/core/inspect/readability';
import { pino } from 'pino';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { HookRun, PendingRow, RevisionRow } from './db/models.ts';
import { RevisionFindingsRow } from './db/team-models.ts';
import { queueUnjudged } from './files/hooks.ts';
import { Judging } from './files/judging.ts';
import { openFile, saveLabel } from './tests/acts.ts';
import { type Client, startTeam, type Team } from './tests/team.ts';

let team: Team;
let editor: Client;
const log = pino({ level: 'silent' });
beforeAll(async () => {
  team = await startTeam();
  editor = await team.as('editor');
});
afterAll(() => team.close());

const file = async () => fileSchema.parse(await editor.json('GET', '/api/files/tide-cues'));
async function save(label: string) {
  const response = await saveLabel(editor, await openFile(editor, 'tide-cues'), 0, label);
  expect(response.status).toBe(201);
  return fileSchema.parse(await response.json());
}

describe('a revision that was saved', () => {
  it('is accepted with its fingerprint and size at once, and measured after that', async () => {
    const before = await file();
    const saved = await save('Low water');
    expect(saved.head.fingerprint).toEqual(before.head.fingerprint);
    expect(saved.head).toMatchObject({
      measures: { nodes: before.head.measures.nodes, wires: before.head.measures.wires },
    });
    await team.judging.settled();
    const after = await file();
    expect(after.head.number).toBe(saved.head.number);
    const { nodes, frames, backward } = before.head.measures;
    expect(after.head.measures).toMatchObject({
      nodes,
      frames,
      backward,
      crossings: expect.any(Number),
      score: expect.any(Number),
    });
    expect(after.head.findings).not.toBeNull();
  });

  it('is not a part of health until it was measured', async () => {
    await team.judging.close();
    const saved = await save('High water');
    expect([saved.head.measures.score, saved.head.findings]).toEqual([undefined, null]);
    const health = async () => healthSchema.parse(await editor.json('GET', '/api/health?of=tide-cues')).files[0]!;
    expect((await health()).number).toBe(saved.head.number - 1);
    // another server takes on what one left
    const other = new Judging(team.sequelize, team.store, log);
    await other.settled();
    expect(await health()).toMatchObject({
      number: saved.head.number,
      now: { score: (await file()).head.measures.score },
    });
    await other.close();
  });

  it('is judged by one of two servers, each once; what was saved last comes first', async () => {
    for (let i = 0; i < 6; i++) await save(`Water ${i}`);
    const order: number[] = [];
    const watch = setInterval(() => void PendingRow.findAll().then((rows) => order.push(rows.length)), 5);
    const both = [new Judging(team.sequelize, team.store, log), new Judging(team.sequelize, team.store, log)];
    await Promise.all(both.map((one) => one.settled()));
    clearInterval(watch);
    expect(order.every((count, i) => i === 0 || count <= order[i - 1]!)).toBe(true);
    const { head } = await file();
    expect(await RevisionFindingsRow.count({ where: { fileId: 'tide-cues' } })).toBe(head.number);
    expect(await HookRun.count({ where: { fileId: 'tide-cues', hook: 'measures', version: scoreVersion } })).toBe(
      head.number,
    );
    await Promise.all(both.map((one) => one.close()));
  });

  it('that cannot be judged is tried three times, and holds nothing up', async () => {
    const broken = await save('Broken');
    await RevisionRow.update(
      { content: Buffer.from('no gzip') },
      { where: { fileId: 'tide-cues', number: broken.head.number } },
    );
    await PendingRow.update({ leasedUntil: null }, { where: {} });
    const warned: unknown[] = [];
    const judging = new Judging(team.sequelize, team.store, {
      warn: (about: unknown) => void warned.push(about),
    } as never);
    const tries = async () => (await PendingRow.findOne({ where: { number: broken.head.number } }))?.tries;
    for (let wanted = 1; wanted <= 3; wanted++) {
      await expect.poll(tries, { timeout: 10_000 }).toBe(wanted);
      await PendingRow.update({ leasedUntil: null }, { where: {} });
      team.store.onPending();
    }
    await judging.close();
    expect([await tries(), warned.length]).toEqual([3, 3]);
  });
});

it('revisions of before, or scored in another way, are put in line once', async () => {
  await PendingRow.destroy({ where: {} });
  await queueUnjudged(team.sequelize);
  const left = await PendingRow.count();
  await HookRun.update({ version: scoreVersion + 1 }, { where: { hook: 'measures', fileId: 'dome-blend' } });
  await queueUnjudged(team.sequelize);
  await queueUnjudged(team.sequelize);
  expect(await PendingRow.count()).toBe(left + 1);
});
