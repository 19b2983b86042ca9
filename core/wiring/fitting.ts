import { builtin } from '../document/builtin.ts';
import type { KindSpec } from '../document/catalogue.ts';
import type { Kinds } from '../document/kinds.ts';
import { fitCost } from './connect.ts';

/** A kind of node that fits an open end, with the port that would be wired. Lower cost is better. */
export interface FittingKind {
  readonly kind: KindSpec;
  readonly port: string;
  readonly cost: number;
}

/** Built-in kinds that can be added by name. The others come with what they belong to: links, feeds, nested graphs. */
const addable = new Set<string>([builtin.reroute]);

/** Kinds that can be added as they are; of shared kinds the newest version. */
export const addableKinds = (kinds: Kinds): KindSpec[] =>
  kinds
    .all()
    .filter(
      (kind) =>
        (!kind.id.startsWith('std.') || addable.has(kind.id)) &&
        (!kind.shared || kinds.newestShared(kind.shared.name) === kind),
    );

/**
 * The kinds of nodes that take what an output gives (`direction` out), or give what an input takes (`in`), best first:
 * by how well a port fits, main ports before others, then by title; a reroute point last. O(ports of the catalogue).
 */
export function fittingKinds(
  kinds: Kinds,
  end: { readonly type: string; readonly name: string },
  direction: 'in' | 'out',
): FittingKind[] {
  const found: FittingKind[] = [];
  for (const kind of addableKinds(kinds)) {
    let best: FittingKind | undefined;
    for (const port of kind.ports) {
      if (port.direction === direction) continue;
      const cost =
        direction === 'out'
          ? fitCost(kinds, { ...port, direction: 'in' }, end)
          : fitCost(
              kinds,
              { id: '', name: end.name, type: end.type, direction: 'in' },
              { name: port.name, type: port.type },
            );
      const whole = cost + (port.main ? 0 : 0.5) + (kind.id === builtin.reroute ? 100 : 0);
      if (whole < (best?.cost ?? Number.POSITIVE_INFINITY)) best = { kind, port: port.id, cost: whole };
    }
    if (best) found.push(best);
  }
  return found.sort((a, b) => a.cost - b.cost || (a.kind.title < b.kind.title ? -1 : 1));
}
