import { caption, indexOf } from '@basitax/core/document/doc';
import type { Id } from '@basitax/core/document/ids';
import { type ReactNode, useEffect, useMemo, useRef } from 'react';
import { useTheme } from '../../theme.ts';
import { Button, Dialog } from '../../ui/controls.tsx';
import { colorsOf } from '../canvas/colors.ts';
import { Painter } from '../canvas/paint/painter.ts';
import { bare } from '../canvas/paint/picture.ts';
import { Scene } from '../canvas/scene.ts';
import { closeToCanvas } from '../dialogs.ts';
import { enterGraph, useEditing, useEditor } from '../store.ts';

const [width, height] = [720, 400];

/** What a nested graph holds, drawn without entering it. */
export function PeekDialog({ id, onClose }: { id: Id; onClose: () => void }): ReactNode {
  const doc = useEditor((state) => state.doc);
  const node = doc.nodes.get(id);
  const inner = node?.inner;
  if (!node || inner === undefined) return null;
  const nodes = indexOf(doc).nodesIn(inner);
  const ports = (direction: 'in' | 'out'): string =>
    node.ports
      .filter((port) => port.direction === direction)
      .map((port) => port.name)
      .join(', ') || 'none';
  return (
    <Dialog
      open
      onClose={onClose}
      size="huge"
      title={`Peek into ${caption(node)}`}
      about={`${nodes.length.toLocaleString('en')} nodes. Inputs: ${ports('in')}. Outputs: ${ports('out')}.`}
    >
      <Inside graph={inner} title={`Picture of the graph in ${caption(node)}`} />
      <div className="flex justify-end gap-2">
        <Button onClick={onClose}>Close</Button>
        <Button
          look="primary"
          onClick={() => {
            closeToCanvas();
            enterGraph(inner);
          }}
        >
          Enter it
        </Button>
      </div>
    </Dialog>
  );
}

/** A graph drawn so that all of it fits. */
function Inside({ graph: inside, title }: { graph: Id; title: string }): ReactNode {
  const { doc, kinds } = useEditing();
  const theme = useTheme((state) => state.theme);
  const scene = useMemo(() => new Scene(doc, kinds, inside), [doc, kinds, inside]);
  const ground = useRef<HTMLCanvasElement>(null);
  const graph = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const [below, above] = [ground.current?.getContext('2d'), graph.current?.getContext('2d')];
    if (!below || !above) return;
    const b = scene.bounds ?? { x: 0, y: 0, width: 1, height: 1 };
    const zoom = Math.min(1, (width - 40) / Math.max(1, b.width), (height - 40) / Math.max(1, b.height));
    const view = { zoom, x: width / 2 - (b.x + b.width / 2) * zoom, y: height / 2 - (b.y + b.height / 2) * zoom };
    new Painter().draw(
      below,
      above,
      {
        scene,
        view,
        width,
        height,
        colors: colorsOf(theme),
        ...bare,
      },
      true,
    );
  }, [scene, theme]);
  return (
    <div
      className="sheet relative mx-auto overflow-hidden rounded-sm border border-line bg-ground"
      style={{ width, height }}
      role="img"
      aria-label={title}
    >
      <canvas ref={ground} className="absolute inset-0" style={{ width, height }} />
      <canvas ref={graph} className="absolute inset-0" style={{ width, height }} />
    </div>
  );
}
