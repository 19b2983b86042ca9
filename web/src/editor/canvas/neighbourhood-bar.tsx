import { nextStep } from '@basitax/core/inspect/neighbourhood';
import { Minus, Plus, X } from 'lucide-react';
import { type ReactNode, useMemo } from 'react';
import { Button, Segments } from '../../ui/controls.tsx';
import { closeNeighbourhood, deepen, grow, prune, switchPlaces } from '../neighbourhood.ts';
import { withKey } from '../shortcuts/keys-store.ts';
import { useEditing } from '../store.ts';
import { CanvasBar } from './bar.tsx';

/** What the neighbourhood shows, and how it is grown and pruned. There only while one is open. */
export function NeighbourhoodBar(): ReactNode {
  const { surroundings, doc, selection } = useEditing();
  const next = useMemo(() => surroundings && nextStep(doc, surroundings.area), [surroundings, doc]);
  if (!surroundings || !next) return null;
  const { area, ids, mode } = surroundings;
  const nothing = selection.length === 0 ? 'Select a node of this view first.' : undefined;
  return (
    <CanvasBar label="Neighbourhood">
      <p role="status" className="whitespace-nowrap">
        <span className="font-bold">Neighbourhood</span>: {ids.length.toLocaleString('en')} nodes
      </p>
      <Depth title="inputs" direction="up" steps={area.up} more={next.up} />
      <Depth title="outputs" direction="down" steps={area.down} more={next.down} />
      <span className="flex gap-1">
        <Button
          className="h-7"
          dim={nothing}
          title={withKey('Adds what is wired to the selected nodes', 'grow')}
          onClick={grow}
        >
          Grow
        </Button>
        <Button
          className="h-7"
          dim={nothing}
          title={withKey('Takes the selected nodes out of this view, and what lies only behind them', 'prune')}
          onClick={prune}
        >
          Prune
        </Button>
      </span>
      <Segments
        label="Places"
        value={mode}
        choices={[
          ['automatic', 'Own layout'],
          ['free', 'Free places'],
        ]}
        onChoose={switchPlaces}
      />
      <Button className="h-7" title={withKey('The file is as it was', 'neighbourhood')} onClick={closeNeighbourhood}>
        <X size={15} />
        Whole graph
      </Button>
    </CanvasBar>
  );
}

function Depth({
  title,
  direction,
  steps,
  more,
}: {
  title: string;
  direction: 'up' | 'down';
  steps: number;
  more: number;
}): ReactNode {
  return (
    <span className="flex items-center gap-0.5 whitespace-nowrap">
      <Button
        look="quiet"
        square
        className="h-7 w-7"
        aria-label={`Fewer ${title}`}
        dim={steps === 0 ? `No ${title} are shown.` : undefined}
        onClick={() => deepen(direction, -1)}
      >
        <Minus size={14} />
      </Button>
      <span className="min-w-14 text-center tabular-nums">
        {title} {steps}
      </span>
      <Button
        look="quiet"
        square
        className="h-7 w-7"
        aria-label={`More ${title}`}
        title={`${more.toLocaleString('en')} more`}
        dim={more === 0 ? `There are no further ${title}.` : undefined}
        onClick={() => deepen(direction, 1)}
      >
        <Plus size={14} />
      </Button>
    </span>
  );
}
