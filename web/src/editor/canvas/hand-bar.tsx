import { indexOf } from '@basitax/core/document/doc';
import type { ReactNode } from 'react';
import { Button } from '../../ui/controls.tsx';
import { candidatesNow, goalOf, letGo, nextCandidate, nextEnd, putToNode, useHand } from '../hand.ts';
import { withKey } from '../shortcuts/keys-store.ts';
import { useEditing } from '../store.ts';
import { CanvasBar } from './bar.tsx';

/**
 * What is carried about, and what can be done with it. There only while a wire is in hand without the pointer being
 * held.
 */
export function HandBar(): ReactNode {
  const inHand = useHand((state) => state.inHand);
  const state = useEditing();
  const { doc, graph } = state;
  const found = candidatesNow();
  if (inHand?.mode !== 'carry' || !found) return null;
  const here = indexOf(doc)
    .nodesIn(graph)
    .filter((node) => found.fitting.has(node.id)).length;
  const node = goalOf(inHand, state);
  return (
    <CanvasBar label="Wire in hand">
      <p role="status">
        <span className="font-bold">In hand</span>: {inHand.hand.direction === 'out' ? '' : 'into '}
        {found.candidates.title}. {here.toLocaleString('en')} {here === 1 ? 'node takes' : 'nodes take'} it here.
      </p>
      <Button
        className="h-7"
        title={withKey('The next port, or the other end of the wire', 'next-end')}
        onClick={nextEnd}
      >
        Another end
      </Button>
      <Button
        className="h-7"
        dim={here === 0 ? 'No node of this graph takes it.' : undefined}
        title={withKey('The nearest first', 'next-candidate')}
        onClick={nextCandidate}
      >
        Next that fits
      </Button>
      <Button
        look="primary"
        className="h-7"
        dim={node === undefined ? 'Select the node that it goes to, or click a port.' : undefined}
        title={withKey('To the selected node', 'in-hand')}
        onClick={() => node !== undefined && void putToNode(inHand, node)}
      >
        Put down
      </Button>
      <Button className="h-7" title="Nothing is changed (Esc)" onClick={letGo}>
        Let go
      </Button>
    </CanvasBar>
  );
}
