import type { ReactNode } from 'react';
import { Button } from '../../ui/controls.tsx';
import { useHand } from '../hand.ts';
import { isStroke, type Stroke, setLayout, useLayout } from '../layout.ts';
import { CanvasBar } from './bar.tsx';

const does: Record<Stroke, string> = {
  cut: 'a drawn line cuts the wires that it crosses',
  reroute: 'a drawn line puts a reroute point on each wire that it crosses',
  join: 'a drawn line wires the nodes that it passes, one to the next',
};

/** Says what a drag does while it draws a stroke, and how that ends. */
export function StrokeBar(): ReactNode {
  const drag = useLayout((layout) => layout.drag);
  const isCarrying = useHand((state) => state.inHand?.mode === 'carry');
  if (!isStroke(drag) || isCarrying) return null;
  return (
    <CanvasBar label="Stroke">
      <p role="status">
        <span className="font-bold">Stroke</span>: {does[drag]}.
      </p>
      <Button className="h-7" title="A drag pans again (Esc)" onClick={() => setLayout({ drag: 'pan' })}>
        End it
      </Button>
    </CanvasBar>
  );
}
