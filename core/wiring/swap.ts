import { caption } from '../document/doc.ts';
import type { GraphNode, Port } from '../document/schema.ts';
import { refuse } from './sentences.ts';
import type { Wiring } from './wiring.ts';

/**
 * Could two inputs of a node change what comes in? Each has to take what the other has; at least one has to be wired.
 */
function swaps(wiring: Wiring, node: GraphNode, a: Port, b: Port): boolean {
  const given = (port: Port): string | undefined => {
    const wire = wiring.into({ node: node.id, port: port.id });
    return wire && wiring.typeOf(wire.from);
  };
  const [atA, atB] = [given(a), given(b)];
  if (atA === undefined && atB === undefined) return false;
  return (
    (atA === undefined || wiring.kinds.accepts(b.type, atA)) && (atB === undefined || wiring.kinds.accepts(a.type, atB))
  );
}

/**
 * Exchanges the wires of two inputs, or of the first two that take the same where none are named; returns them. Which
 * two these are does not hang on what is wired, so that twice is nothing. Throws Refused.
 */
export function swapInputs(
  wiring: Wiring,
  node: GraphNode,
  first: string | undefined,
  second: string | undefined,
): readonly [Port, Port] {
  const inputs = node.ports.filter(
    (port) => port.direction === 'in' && (port.of === undefined || port.id === first || port.id === second),
  );
  const named = [first, second].map((id) => {
    const port = id === undefined ? undefined : inputs.find((own) => own.id === id);
    if (id !== undefined && !port) throw refuse('no-input', { node: caption(node), id });
    return port;
  });
  const isAlike = (a: Port, b: Port): boolean =>
    wiring.kinds.accepts(a.type, b.type) && wiring.kinds.accepts(b.type, a.type);
  const pairs = inputs.flatMap((a, i) => inputs.slice(i + 1).map((b) => [a, b] as const));
  const wanted = pairs.find(
    ([a, b]) => named.every((port) => !port || port === a || port === b) && ((named[0] && named[1]) || isAlike(a, b)),
  );
  const pair = wanted && swaps(wiring, node, ...wanted) ? wanted : undefined;
  if (!pair) {
    const names = { node: caption(node) };
    if (named[0] && named[1]) throw refuse('neither-swaps', { a: named[0].name, b: named[1].name, ...names });
    if (wanted) throw refuse('neither-wired', { a: wanted[0].name, b: wanted[1].name, ...names });
    throw refuse('nothing-to-swap', names);
  }
  const [a, b] = [
    { node: node.id, port: pair[0].id },
    { node: node.id, port: pair[1].id },
  ];
  const [atA, atB] = [wiring.into(a), wiring.into(b)];
  wiring.carryAll([...(atA ? [{ wire: atA, to: b }] : []), ...(atB ? [{ wire: atB, to: a }] : [])]);
  return pair;
}
