import { caption } from '@basitax/core/document/doc';
import { ChevronDown, ChevronRight, X } from 'lucide-react';
import type { ReactNode } from 'react';
import { Button } from '../../ui/controls.tsx';
import { letAllGo, shutAll, turnKept, turnShut, useKept } from '../kept.ts';
import { type Editing, enterGraph } from '../store.ts';
import { Parameters } from './parameters.tsx';

/** The parameters of nodes whose panels were kept, whatever is selected. */
export function KeptPanels({ state, locked }: { state: Editing; locked: boolean }): ReactNode {
  const { kept, shut } = useKept();
  const nodes = kept.flatMap((id) => state.doc.nodes.get(id) ?? []);
  if (nodes.length === 0) return null;
  return (
    <section aria-label="Kept panels" className="mt-4 flex flex-col gap-2 border-t border-line pt-3">
      <span className="flex items-center gap-1">
        <h2 className="mr-auto font-bold">Kept</h2>
        <Button look="quiet" className="h-6 px-1.5 text-xs" onClick={() => shutAll(false)}>
          Open all
        </Button>
        <Button look="quiet" className="h-6 px-1.5 text-xs" onClick={() => shutAll(true)}>
          Close all
        </Button>
        <Button look="quiet" className="h-6 px-1.5 text-xs" onClick={letAllGo}>
          Let go
        </Button>
      </span>
      {nodes.map((node) => {
        const isShut = shut.has(node.id);
        return (
          <section key={node.id} aria-label={`Kept: ${caption(node)}`} className="rounded-sm border border-line p-2">
            <span className="flex items-center gap-1">
              <Button
                look="quiet"
                square
                className="size-6"
                aria-expanded={!isShut}
                aria-label={`${isShut ? 'Open' : 'Close'} ${caption(node)}`}
                onClick={() => turnShut(node.id)}
              >
                {isShut ? <ChevronRight size={14} /> : <ChevronDown size={14} />}
              </Button>
              <button
                type="button"
                className="min-w-0 flex-1 truncate text-left font-bold hover:underline"
                onClick={() => enterGraph(node.graph, [node.id])}
              >
                {caption(node)}
              </button>
              <Button
                look="quiet"
                square
                className="size-6"
                aria-label={`Let ${caption(node)} go`}
                onClick={() => turnKept(node.id)}
              >
                <X size={13} />
              </Button>
            </span>
            {!isShut && <Parameters nodes={[node]} kinds={state.kinds} locked={locked} />}
          </section>
        );
      })}
    </section>
  );
}
