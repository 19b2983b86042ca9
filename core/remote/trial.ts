import type { Doc } from '../document/doc.ts';
import { flowOf } from '../document/geometry.ts';
import type { Id } from '../document/ids.ts';
import type { Wire } from '../document/schema.ts';
import { Transaction } from '../edit/transaction.ts';
import { Crossings, type Line, lengthOf, lineOf, windowsOf } from '../inspect/lines.ts';
import { must } from '../must.ts';
import type { Context } from '../operation.ts';
import { plainRoute } from '../route/route.ts';
import { Wiring } from '../wiring/wiring.ts';
import type { Candidate, Figures } from './advice.ts';
import { Linker } from './links.ts';

/**
 * Tries candidates one by one, each alone on a copy of the document: really turns its wires into a link, and counts
 * what is gone and what has come.
 * The figures are those that counting the whole copy again would give. O(wires of the candidate · log + their
 * crossings) for each.
 */
export function tryLinks(
  { kinds }: Pick<Context, 'kinds'>,
  doc: Doc,
  graph: Id,
  lines: readonly Line[],
  wires: readonly Wire[],
  crossings: Crossings,
): (one: Pick<Candidate, 'from' | 'wires' | 'name'>) => Figures {
  const numbers = new Map(wires.map((wire, i) => [wire.id, i]));
  const flow = flowOf(doc, graph);
  return ({ from, wires: ids, name }) => {
    let made = 0;
    const newId = (prefix: string): Id => `trial ${prefix}${made++}`;
    const wiring = new Wiring(new Transaction(doc), kinds, newId);
    new Linker(wiring, newId).link({ from, wires: ids.map((id) => must(doc.wires.get(id))), name }, 'node');
    const copy = wiring.tx.doc;
    const touched = new Set(wiring.tx.edit.steps.flatMap((step) => (step.table === 'wires' ? [step.id] : [])));
    const gone = new Set([...touched].flatMap((id) => numbers.get(id) ?? []));
    const come = [...touched].flatMap((id) => copy.wires.get(id) ?? []);
    const fresh = come.flatMap((wire) => lineOf(wire, plainRoute(copy, kinds, wire, flow)) ?? []);
    let crossed = 0;
    for (const i of gone) crossings.with(must(lines[i]), (other) => (crossed += gone.has(other) ? 0.5 : 1));
    for (const line of fresh)
      crossings.with(line, (other) => {
        if (!gone.has(other)) crossed--;
      });
    new Crossings(fresh).each(() => crossed--);
    const old = [...gone].map((i) => must(lines[i]));
    const difference = (of: (line: Line) => number): number =>
      old.reduce((total, line) => total + of(line), 0) - fresh.reduce((total, line) => total + of(line), 0);
    return {
      crossings: crossed,
      length: Math.round(difference((line) => lengthOf(line.route))),
      windows: difference((line) => windowsOf(line.route)),
    };
  };
}
