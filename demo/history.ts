import type { Doc } from '@basitax/core/document/doc';
import { type Id, seededRandom } from '@basitax/core/document/ids';
import { Kinds } from '@basitax/core/document/kinds';
import { apply } from '@basitax/core/edit/step';
import { createContext } from '@basitax/core/operation';
import { runOperation } from '@basitax/core/operations';
import { catalogue } from './catalogue.ts';

/** A state of a file before the present one: who made it when, and what was said. */
export interface PastState {
  readonly daysAgo: number;
  readonly author: string;
  readonly message: string;
  readonly doc: Doc;
}

/** Where the nodes of a document stand after arranging. */
async function arranged(doc: Doc): Promise<Doc> {
  return apply(
    doc,
    (
      await runOperation(
        'arrange',
        createContext(new Kinds(catalogue), 1),
        doc,
        { graph: doc.head.root, items: [] },
        {},
      )
    ).edit,
  );
}

/** The document with a share of its nodes at the places of another one. */
function partly(doc: Doc, other: Doc, share: number): Doc {
  const random = seededRandom(7);
  const nodes = new Map(
    [...doc.nodes].map(([id, node]): [Id, typeof node] => {
      const there = other.nodes.get(id);
      return [id, there && random() < share ? { ...node, x: there.x, y: there.y } : node];
    }),
  );
  return { ...doc, nodes };
}

/**
 * Files whose weeks before are told, so that there is something to see: they began arranged, and deadlines made them
 * what they are.
 */
export const withPast = ['lantern-rig', 'seabed', 'narration'] as const;

/** How the last weeks of a file went, the oldest first; the last one is what it is now. */
export async function pastOf(now: Doc): Promise<readonly PastState[]> {
  const first = await arranged(now);
  return [
    { daysAgo: 52, author: 'Lead TD', message: 'Arranged for the first run-through', doc: first },
    { daysAgo: 33, author: 'Lighting artist', message: 'Room for the new cues', doc: partly(first, now, 0.3) },
    {
      daysAgo: 19,
      author: 'Lighting artist',
      message: 'Changes of the second rehearsal',
      doc: partly(first, now, 0.65),
    },
    { daysAgo: 5, author: 'Lighting artist', message: 'As it went into the dome', doc: now },
  ];
}
