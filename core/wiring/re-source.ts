import { caption } from '../document/doc.ts';
import type { PortRef } from '../document/schema.ts';
import type { Finding } from '../finding.ts';
import { must } from '../must.ts';
import type { Saying } from '../said.ts';
import { alongData } from './along.ts';
import { connectProblem, loopProblem, typeProblem } from './connect.ts';
import { find, say } from './sentences.ts';
import type { Wiring } from './wiring.ts';

/**
 * Moves consumers of one output to another: all, or those at the given inputs. What does not fit, or would close a loop
 * that the catalogue forbids, stays where it is and is listed by name. Returns how many were moved. O(wires).
 */
export function reSource(
  wiring: Wiring,
  from: PortRef,
  to: PortRef,
  only: ReadonlySet<string> | undefined,
): { moved: number; findings: Finding[] } {
  const { tx, kinds } = wiring;
  const doc = tx.before;
  const source = must(doc.nodes.get(to.node));
  const upstream = kinds.catalogue.loops === 'forbidden' ? alongData(doc, [to.node], 'up') : undefined;
  const findings: Finding[] = [];
  const moves = [];
  for (const wire of wiring.outOf(from)) {
    if (only && !only.has(inputKey(wire.to))) continue;
    const consumer = must(doc.nodes.get(wire.to.node));
    // the new source itself goes on taking from the old one: nothing else can be meant
    if (consumer.id === to.node) continue;
    const problem = upstream?.has(consumer.id) ? loopProblem(source, consumer) : typeProblem(doc, kinds, to, wire.to);
    if (problem === undefined) moves.push({ wire, from: to });
    else
      findings.push(
        find('stays', 'warning', [consumer.id], 'still-takes-from', {
          consumer: caption(consumer),
          node: caption(must(doc.nodes.get(from.node))),
          problem: problem.message,
        }),
      );
  }
  wiring.carryAll(moves);
  return { moved: moves.length, findings };
}

export const inputKey = ({ node, port }: PortRef): string => JSON.stringify([node, port]);

/** Why consumers of one output cannot be moved to another at all; undefined where some may. */
export function reSourceProblem(wiring: Wiring, from: PortRef, to: PortRef): Saying | undefined {
  const doc = wiring.tx.before;
  const [first] = wiring.outOf(from);
  if (!first) return say('no-consumers', { port: from.port, node: caption(must(doc.nodes.get(from.node))) });
  if (must(doc.nodes.get(from.node)).graph !== must(doc.nodes.get(to.node)).graph)
    return connectProblem(doc, wiring.kinds, to, first.to);
  return undefined;
}
