import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { UseSearch } from '@basitax/api/inspect';
import { seededRandom } from '@basitax/core/document/ids';
import type { UseCount } from '@basitax/core/inspect/uses';
import { connect } from '@basitax/server/db/connect';
import { FileRow } from '@basitax/server/db/models';
import { writeUses } from '@basitax/server/files/hooks';
import { namesOfUses, searchUses } from '@basitax/server/inspect/uses';
import { QueryTypes, type Sequelize } from 'sequelize';
// @ts-expect-error plain script that has to run before anything is installed
import { startMariadb } from '../scripts/mariadb.mjs';
import { at, told } from './numbers.ts';

interface Row {
  readonly question: string;
  readonly files: number;
  readonly uses: number;
  /** Milliseconds, median and 95th percentile. */
  readonly ms: string;
  /** The median over that of a scan of the same table in the same run: machines differ. */
  readonly ofScan: string;
}

const files = 1000;
const nodesEach = 500;
const rounds = 25;
const kinds = Array.from({ length: 120 }, (_, i) => `reef.kind_${i}`);
const parameters = Array.from({ length: 300 }, (_, i) => `parameter_${i}`);

/**
 * What a file of 500 nodes uses: some kinds often, values that repeat and values that do not, a few assets, beacons and
 * shared kinds.
 */
function usesOfFile(seed: number): UseCount[] {
  const random = seededRandom(seed);
  const counts = new Map<string, UseCount>();
  const add = (what: UseCount['what'], name: string, value: string): void => {
    const key = `${what}\n${name}\n${value}`;
    counts.set(key, { what, name, value, count: (counts.get(key)?.count ?? 0) + 1 });
  };
  const skewed = (size: number): number => Math.floor(random() ** 2.5 * size);
  for (let n = 0; n < nodesEach; n++) {
    add('kind', kinds[skewed(kinds.length)]!, '');
    for (let p = 0; p < 3; p++)
      add(
        'value',
        parameters[skewed(parameters.length)]!,
        random() < 0.5 ? String(Math.floor(random() * 20)) : random().toFixed(4),
      );
    if (random() < 0.06) add('asset', `show/reef/maps/map_${skewed(900)}.exr`, '');
    if (random() < 0.04) add('beacon', `Tide_${skewed(60)}`, random() < 0.3 ? 'beacon' : 'tap');
    if (random() < 0.03) add('shared', `part_${skewed(40)}`, String(1 + skewed(4)));
  }
  return [...counts.values()];
}

async function fill(sequelize: Sequelize): Promise<number> {
  let rows = 0;
  for (let i = 0; i < files; i++) {
    const id = `file-${i}`;
    const counts = usesOfFile(i + 1);
    rows += counts.length;
    await sequelize.transaction(async (transaction) => {
      await FileRow.create(
        { id, title: `File ${i}`, catalogueId: 'reef', catalogueVersion: 1, head: 1 },
        { transaction },
      );
      await writeUses(id, counts, transaction);
    });
  }
  await sequelize.query('ANALYZE TABLE uses', { type: QueryTypes.SELECT });
  return rows;
}

async function timed(act: () => Promise<unknown>, times = rounds): Promise<number[]> {
  const found: number[] = [];
  for (let i = 0; i < times + 2; i++) {
    const started = performance.now();
    await act();
    // the first two warm what has to be warm
    if (i >= 2) found.push(performance.now() - started);
  }
  return found;
}

/**
 * Where something is used, over 1,000 files and 500,000 nodes: each question as the panel asks it, against a scan of
 * the table.
 */
export async function search(): Promise<Row[]> {
  const folder = mkdtempSync(join(tmpdir(), 'basitax-search-'));
  const database = await startMariadb(join(folder, 'db'), { throwaway: true });
  try {
    const url = new URL(database.url);
    const sequelize = await connect(url.href);
    const rows = await fill(sequelize);
    const scan = await timed(
      () =>
        sequelize.query(
          "SELECT file_id, SUM(count) FROM uses IGNORE INDEX (uses_by_name, uses_by_value, PRIMARY) WHERE what = 'asset' AND name = 'show/reef/maps/map_3.exr' GROUP BY file_id",
          { type: QueryTypes.SELECT },
        ),
      5,
    );
    const result: Row[] = [
      {
        question: `a scan of ${rows.toLocaleString('en')} rows, the reference`,
        files: files,
        uses: rows,
        ms: told(scan, 0),
        ofScan: '1.00',
      },
    ];
    const questions: readonly (readonly [string, UseSearch])[] = [
      ['the commonest kind', { what: 'kind', name: kinds[0]!, match: 'exact' }],
      ['a rare kind', { what: 'kind', name: kinds[119]!, match: 'exact' }],
      ['kinds that begin so', { what: 'kind', name: 'reef.kind_1', match: 'starts' }],
      ['a value of a parameter', { what: 'value', name: parameters[0]!, value: '7', match: 'exact' }],
      ['a value of any parameter', { what: 'value', value: '7', match: 'exact' }],
      ['an asset', { what: 'asset', name: 'show/reef/maps/map_3.exr', match: 'exact' }],
      ['assets in a folder', { what: 'asset', name: 'show/reef/maps/map_1', match: 'starts' }],
      ['a beacon', { what: 'beacon', name: 'Tide_2', match: 'exact' }],
      ['a shared kind, any version', { what: 'shared', name: 'part_1', match: 'exact' }],
      ['nothing', { what: 'asset', name: 'nobody/nothing.exr', match: 'exact' }],
    ];
    for (const [question, query] of questions) {
      const answer = await searchUses(query, []);
      const ms = await timed(() => searchUses(query, []));
      result.push({
        question,
        files: answer.files.length,
        uses: answer.total,
        ms: told(ms),
        ofScan: (at(ms, 0.5) / at(scan, 0.5)).toFixed(3),
      });
    }
    const names = await timed(() => namesOfUses({ what: 'value', starts: 'parameter_1' }, []));
    result.push({
      question: 'names to propose',
      files: 0,
      uses: 0,
      ms: told(names),
      ofScan: (at(names, 0.5) / at(scan, 0.5)).toFixed(3),
    });
    await sequelize.close();
    return result;
  } finally {
    await database.stop();
    rmSync(folder, { recursive: true, force: true });
  }
}
