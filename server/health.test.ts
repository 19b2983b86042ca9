import { healthSchema } from '@basitax/api/health';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { ProjectRow } from './db/team-models.ts';
import { healthOf, type Measured } from './health/health.ts';
import { type Client, startTeam, type Team } from './tests/team.ts';

const at = (day: string, hour = 12): Date => new Date(`2026-11-${day}T${String(hour).padStart(2, '0')}:00:00Z`);
const row = (
  file: string,
  number: number,
  day: string,
  score: number | null,
  more: Partial<Measured> = {},
): Measured => ({
  ...{
    file,
    title: file.toUpperCase(),
    project: 'reef',
    number,
    at: at(day),
    author: 'Lead TD',
    message: `Act ${number}`,
    nodes: 10,
    score,
    error: 0,
    warning: 0,
    info: 0,
  },
  ...more,
});

describe('health', () => {
  const rows = [
    row('a', 3, '01', 80),
    row('a', 4, '18', 70, { warning: 4 }),
    row('a', 5, '20', 75, { warning: 4 }),
    row('b', 1, '19', 40, { error: 2, info: 1 }),
  ];
  const health = healthOf(rows, 4, at('20', 15));

  it('counts each file as it stood at the end of each day, from the day on that it was there', () => {
    expect(health.days).toEqual([
      { day: '2026-11-17', score: 80, files: 1, error: 0, warning: 0, info: 0 },
      { day: '2026-11-18', score: 70, files: 1, error: 0, warning: 4, info: 0 },
      { day: '2026-11-19', score: 55, files: 2, error: 2, warning: 4, info: 1 },
      { day: '2026-11-20', score: 57.5, files: 2, error: 2, warning: 4, info: 1 },
    ]);
  });

  it('names the revisions that made files worse, the most harmful first, and the worst files first', () => {
    const harmful = healthOf([...rows, row('c', 1, '18', 90), row('c', 2, '19', 90, { error: 3 })], 4, at('20', 15));
    expect(
      harmful.worse.map(({ file, number, before, after }) => [file, number, before.score, after.error, after.warning]),
    ).toEqual([
      ['c', 2, 90, 3, 0],
      ['a', 4, 80, 0, 4],
    ]);
    expect(health.files.map(({ file, now, was }) => [file, now.score, was.score])).toEqual([
      ['b', 40, 40],
      ['a', 75, 80],
    ]);
  });

  it('bears files that were never measured, and none at all', () => {
    expect(healthOf([row('a', 1, '19', null)], 2, at('20')).days.map((one) => [one.files, one.score])).toEqual([
      [1, null],
      [1, null],
    ]);
    expect(healthOf([], 2, at('20'))).toMatchObject({ days: [{ files: 0 }, { files: 0 }], worse: [], files: [] });
  });
});

describe('health over HTTP', () => {
  let team: Team;
  let viewer: Client;
  beforeAll(async () => {
    team = await startTeam();
    viewer = await team.as('viewer');
  });
  afterAll(() => team.close());

  it('is that of all one sees, of a project, or of a file', async () => {
    const all = healthSchema.parse(await viewer.json('GET', '/api/health?days=7'));
    expect([all.days.length, all.days.at(-1)?.files, all.files.length]).toEqual([7, 2, 2]);
    expect(all.files.every((file) => file.now.score !== null && file.nodes > 0)).toBe(true);
    expect((await viewer.json('GET', '/api/health?of=dome-blend')).files).toMatchObject([
      { file: 'dome-blend', number: 1 },
    ]);
    expect((await viewer.json('GET', '/api/health?project=team')).files).toHaveLength(2);
    await viewer.json('GET', '/api/health?project=none', { status: 404 });
    await viewer.json('GET', '/api/health?of=none', { status: 404 });
    await viewer.json('GET', '/api/health?days=1', { status: 400 });
    await ProjectRow.update({ open: false }, { where: { id: 'team' } });
    expect((await viewer.json('GET', '/api/health')).files).toEqual([]);
    await viewer.json('GET', '/api/health?of=dome-blend', { status: 404 });
  });
});
