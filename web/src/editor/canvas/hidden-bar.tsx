import { membersOfSet } from '@basitax/core/structure/sets';
import type { ReactNode } from 'react';
import { Button } from '../../ui/controls.tsx';
import { useEditing, useEditor } from '../store.ts';
import { CanvasBar } from './bar.tsx';

/** Says that some nodes are hidden, so that nobody takes the rest for the whole. */
export function HiddenBar(): ReactNode {
  const { doc, graph } = useEditing();
  const hidden = useEditor((state) => state.hiddenSets);
  const count = new Set(hidden.flatMap((set) => membersOfSet(doc, set).filter((node) => node.graph === graph))).size;
  if (count === 0) return null;
  return (
    <CanvasBar label="Hidden nodes">
      <span>{count.toLocaleString('en')} nodes of hidden sets are not shown.</span>
      <Button className="h-6 px-2 text-xs" onClick={() => useEditor.setState({ hiddenSets: [] })}>
        Show all
      </Button>
    </CanvasBar>
  );
}
