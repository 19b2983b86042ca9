import type { Health } from '@basitax/api/health';
import { addTo } from '@basitax/core/group-by';
import { must } from '@basitax/core/must';

/** A revision of a file, as health counts it. Scores are 0 to 100; null where it was not measured. */
export interface Measured {
  readonly file: string;
  readonly title: string;
  readonly project: string;
  readonly number: number;
  readonly at: Date;
  readonly author: string;
  readonly message: string;
  readonly nodes: number;
  readonly score: number | null;
  readonly error: number;
  readonly warning: number;
  readonly info: number;
}

const day = 86_400_000;
const startOf = (at: Date): number => Math.floor(at.getTime() / day) * day;

/**
 * What got worse between two revisions of a file, as one number: a new error counts ten, a new warning one, a lost
 * point of readability one.
 */
function harm(before: Measured, after: Measured): number {
  const lost = before.score !== null && after.score !== null ? before.score - after.score : 0;
  return lost + 10 * (after.error - before.error) + (after.warning - before.warning);
}

const mostWorse = 50;

/**
 * How files stood over some days, and what made them worse. `rows` holds the revisions of all files, each file's in the
 * order of their numbers, among them the last one before the first day. A day counts each file as it stood at its end,
 * by UTC. O(rows + days · files).
 */
export function healthOf(rows: readonly Measured[], days: number, now: Date): Health {
  const byFile = new Map<string, Measured[]>();
  for (const row of rows) addTo(byFile, row.file, row);
  const first = startOf(now) - (days - 1) * day;
  const places = new Map([...byFile.keys()].map((file) => [file, -1]));
  const series: Health['days'][number][] = [];
  for (let at = first; at <= startOf(now); at += day) {
    const sums = { score: 0, scored: 0, files: 0, error: 0, warning: 0, info: 0 };
    for (const [file, all] of byFile) {
      let place = must(places.get(file));
      while (place + 1 < all.length && must(all[place + 1]).at.getTime() < at + day) place++;
      places.set(file, place);
      const row = all[place];
      if (!row) continue;
      sums.files++;
      if (row.score !== null) {
        sums.score += row.score;
        sums.scored++;
      }
      sums.error += row.error;
      sums.warning += row.warning;
      sums.info += row.info;
    }
    const { files, error, warning, info } = sums;
    series.push({
      day: new Date(at).toISOString().slice(0, 10),
      score: sums.scored === 0 ? null : Math.round((sums.score / sums.scored) * 10) / 10,
      files,
      error,
      warning,
      info,
    });
  }
  const said = ({ score, error, warning, info }: Measured) => ({ score, error, warning, info });
  const worse = [...byFile.values()]
    .flatMap((all) =>
      all.slice(1).map((after, i) => ({ before: must(all[i]), after, harm: harm(must(all[i]), after) })),
    )
    .filter(({ after, harm: much }) => much >= 1 && after.at.getTime() >= first)
    .sort((a, b) => b.harm - a.harm || b.after.at.getTime() - a.after.at.getTime())
    .slice(0, mostWorse)
    .map(({ before, after }) => ({
      ...{
        file: after.file,
        title: after.title,
        number: after.number,
        author: after.author,
        message: after.message,
        at: after.at.toISOString(),
      },
      ...{ before: said(before), after: said(after) },
    }));
  const files = [...byFile.values()]
    .map((all) => {
      const last = must(all[all.length - 1]);
      const was = all.findLast((row) => row.at.getTime() < first) ?? must(all[0]);
      return {
        file: last.file,
        title: last.title,
        project: last.project,
        number: last.number,
        nodes: last.nodes,
        now: said(last),
        was: said(was),
      };
    })
    .sort(
      (a, b) =>
        (a.now.score ?? 101) - (b.now.score ?? 101) ||
        b.now.error - a.now.error ||
        b.now.warning - a.now.warning ||
        (a.title < b.title ? -1 : 1),
    );
  return { days: series, worse, files };
}
