import type { Doc } from '../document/doc.ts';
import type { Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import { apply } from '../edit/step.ts';
import { createContext } from '../operation.ts';
import { runOperation } from '../operations.ts';
import { Refused } from '../said.ts';
import type { FaultType } from './faults.ts';
import { type Place, readability } from './readability.ts';

/** Something that may help in a place: an operation with what it is done to. */
export interface Remedy {
  readonly operation: string;
  readonly options: Readonly<Record<string, unknown>>;
  readonly items: readonly Id[];
  /** What it does, in a few words. */
  readonly words: string;
}

/** The same, tried: by how many points the score of the graph rises. */
export interface Tried extends Remedy {
  readonly gain: number;
}

/** Gains below are not worth a word. */
const leastGain = 0.05;

/** What might help a whole graph. */
const whole: readonly Remedy[] = [
  { operation: 'arrange', options: {}, items: [], words: 'Arrange the whole graph by its wiring' },
];

/** What might help in a place, by what is wrong there. */
function remediesFor(doc: Doc, place: Place): readonly Remedy[] {
  const nodesOf = (...types: FaultType[]): Id[] => [
    ...new Set(place.faults.flatMap((fault) => (types.includes(fault.type) ? fault.nodes : []))),
  ];
  const has = (...types: FaultType[]): boolean => place.faults.some((fault) => types.includes(fault.type));
  const wires = nodesOf('far', 'through', 'crossing', 'backward');
  return [
    ...(wires.length > 0
      ? [{ operation: 'link-advised', options: {}, items: wires, words: 'Remote links for the worst of these wires' }]
      : []),
    ...(has('overlap', 'through', 'crossing')
      ? [{ operation: 'unstack', options: { gap: 24 }, items: place.nodes, words: 'Part what lies too near' }]
      : []),
    ...(place.nodes.length > 1 && has('crossing', 'bend', 'backward', 'through')
      ? [
          { operation: 'settle', options: {}, items: place.nodes, words: 'Settle these nodes into rows and columns' },
          { operation: 'arrange', options: {}, items: place.nodes, words: 'Arrange these nodes by their wiring' },
        ]
      : []),
    ...(has('unnamed')
      ? [
          {
            operation: 'captions',
            options: { target: 'name', pattern: '{frame}_{kind}', mend: true },
            items: nodesOf('unnamed').filter((id) => doc.nodes.has(id)),
            words: 'Name these nodes after their frame and kind',
          },
        ]
      : []),
  ];
}

/**
 * Tries what might help in a place, or without one the whole graph, each on a copy that is routed and measured, and
 * gives what raises the score, the most first; nothing where none does.
 * Cost: that of each operation, of routing and of the report.
 */
export async function tryRemedies(
  doc: Doc,
  kinds: Kinds,
  graph: Id,
  place: Place | undefined,
  score: number,
  progress: (fraction: number) => void = () => {},
): Promise<readonly Tried[]> {
  const all = place ? remediesFor(doc, place) : whole;
  const found: Tried[] = [];
  for (const [i, remedy] of all.entries()) {
    progress(i / all.length);
    try {
      const { edit } = await runOperation(
        remedy.operation,
        createContext(kinds, 1),
        doc,
        { graph, items: remedy.items },
        remedy.options,
      );
      const gain = edit.steps.length === 0 ? 0 : readability(apply(doc, edit), kinds, graph).score - score;
      if (gain >= leastGain) found.push({ ...remedy, gain });
    } catch (error) {
      // what cannot be done there is no help
      if (!(error instanceof Refused)) throw error;
    }
  }
  return found.sort((a, b) => b.gain - a.gain);
}
