import type { ScriptReport, ScriptThing } from '../api.ts';
import { objects } from './objects.ts';
import { ask, nodes, root, ScriptError } from './store.ts';

// Runs inside the sandbox: operations of the registry.

/** The node that was taken from a list last: what an error that names none is about. */
export const at: { node: string | undefined } = { node: undefined };

/** Does an operation of the registry in a graph. */
export function perform(
  operation: string,
  graph: string,
  items: readonly string[],
  options: object = {},
  node?: string,
): ScriptReport & { ids: readonly string[] } {
  const { summary, findings, made } = ask(
    { do: 'run', operation, graph, items: [...items], options: options as never },
    node,
  ) as {
    summary: string;
    findings: string[];
    made: string[];
  };
  return { summary, findings, ids: made, made: objects.listOf(made.filter((id) => nodes.has(id))) };
}

/** An operation on things, which lie in one graph. */
export function performOn(operation: string, things: readonly ScriptThing[], options?: object): ScriptReport {
  const graph = things[0] === undefined ? undefined : graphOfThing(things[0]);
  const stranger = things.find((thing) => graphOfThing(thing) !== graph);
  if (stranger)
    throw new ScriptError(
      'An operation works in one graph; these lie in several. Go through file.graphs, one after the other.',
      stranger.id,
    );
  return perform(
    operation,
    graph ?? current.graph,
    things.map((thing) => thing.id),
    options,
  );
}

export const current = { graph: root };

function graphOfThing(thing: ScriptThing): string {
  return 'from' in thing ? thing.from.node.graph.id : thing.graph.id;
}
