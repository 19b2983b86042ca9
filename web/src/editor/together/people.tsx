import type { Present } from '@basitax/api/live';
import { must } from '@basitax/core/must';
import type { ReactNode } from 'react';
import { Button } from '../../ui/controls.tsx';
import { focusCanvas } from '../dialogs.ts';
import { remember, showGraph, useEditor, viewControl } from '../store.ts';
import { useLive } from './live.ts';

/** Two letters of a name. */
const initials = (name: string): string =>
  name
    .split(/\s+/)
    .filter(Boolean)
    .map((word) => must(word[0]).toUpperCase())
    .slice(0, 2)
    .join('');

const most = 4;

/** Shows what somebody else is looking at. */
function goToWhere({ graph, x, y, width, height }: Present): void {
  const { window: size, doc } = useEditor.getState();
  if (!doc.graphs.has(graph) || width <= 0 || height <= 0) return;
  remember();
  if (!showGraph(graph, [])) return;
  const zoom = Math.min(2, Math.max(0.02, Math.min(size.width / width, size.height / height)));
  viewControl.set({ zoom, x: size.width / 2 - (x + width / 2) * zoom, y: size.height / 2 - (y + height / 2) * zoom });
  focusCanvas();
}

/** Who else has the file open; a press goes to where they are. */
export function PeopleHere(): ReactNode {
  const others = useLive((state) => state.others);
  const doc = useEditor((state) => state.doc);
  if (others.length === 0) return null;
  const where = (one: Present): string =>
    one.graph === doc.head.root ? 'the outermost graph' : `“${doc.graphs.get(one.graph)?.name ?? 'a graph'}”`;
  return (
    <ul aria-label="Who else is here" className="flex items-center gap-1">
      {others.slice(0, most).map((one) => (
        <li key={one.tab}>
          <Button
            square
            className={`h-7 w-7 rounded-full text-xs font-bold ${one.editing ? 'border-accent text-accent' : ''}`}
            aria-label={`${one.name}, in ${where(one)}${one.editing ? ', with unsaved changes' : ''}: go there`}
            title={`${one.name}, in ${where(one)}${one.editing ? ', with unsaved changes' : ''}. A press goes there.`}
            onClick={() => goToWhere(one)}
          >
            {initials(one.name)}
          </Button>
        </li>
      ))}
      {others.length > most && (
        <li className="text-xs text-soft" title={others.map((one) => one.name).join(', ')}>
          +{others.length - most}
        </li>
      )}
    </ul>
  );
}
