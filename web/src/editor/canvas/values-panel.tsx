import { caption } from '@basitax/core/document/doc';
import { type Rect, rectOf } from '@basitax/core/document/geometry';
import type { Id } from '@basitax/core/document/ids';
import { must } from '@basitax/core/must';
import { type ReactNode, useEffect, useRef } from 'react';
import { create } from 'zustand';
import { Button } from '../../ui/controls.tsx';
import { focusCanvas } from '../dialogs.ts';
import { mayEdit } from '../may-edit.ts';
import { ParameterField } from '../panels/parameter-field.tsx';
import { useEditing, useEditor, type View } from '../store.ts';
import { toScreen } from './paint/picture.ts';

/** The node whose main parameters are typed on the canvas, right after it was added. */
const useValues = create<{ readonly node: Id | undefined }>(() => ({ node: undefined }));

const close = (): void => {
  useValues.setState({ node: undefined });
  focusCanvas();
};

/** Opens the fields of the node that was just added, if it is of that kind and has any. */
export function typeValues(kind: string): void {
  const { doc, selection, kinds } = useEditor.getState();
  const node = selection.length === 1 ? doc.nodes.get(must(selection[0])) : undefined;
  if (node?.kind === kind && kinds.parameters(kind).some((spec) => spec.main)) useValues.setState({ node: node.id });
}

/** About as large as the panel gets, in pixels on screen. */
const panelSize = { width: 248, height: 230 };

/** Under the node, or beside it where there is no room below; never over it, and within the window. */
function placeOf(
  rect: Rect,
  view: View,
  size: { readonly width: number; readonly height: number },
): { left: number; top: number } {
  const node = toScreen(view, rect);
  const hasRoom = node.y + node.height + panelSize.height < size.height;
  const fits = node.x + node.width + panelSize.width + 12 < size.width;
  const beside = fits ? node.x + node.width + 12 : node.x - panelSize.width - 4;
  const within = (at: number, most: number): number => Math.max(8, Math.min(most, at));
  return {
    left: within(hasRoom ? node.x : beside, size.width - panelSize.width),
    top: within(hasRoom ? node.y + node.height + 8 : node.y, size.height - panelSize.height),
  };
}

/** The main parameters of a new node, under it, so that they can be typed without leaving the canvas. */
export function ValuesPanel(): ReactNode {
  const id = useValues((state) => state.node);
  const state = useEditing();
  const { doc, kinds, selection } = state;
  const view = useEditor((state) => state.view);
  const size = useEditor((state) => state.window);
  const panel = useRef<HTMLElement>(null);
  const node = id !== undefined && selection.includes(id) ? doc.nodes.get(id) : undefined;
  useEffect(() => {
    if (id !== undefined && !node) useValues.setState({ node: undefined });
  }, [id, node]);
  const isThere = node !== undefined;
  useEffect(() => {
    if (!isThere) return;
    // once the dialog that was there before has given the keyboard back
    const later = setTimeout(() => {
      const first = panel.current?.querySelector<HTMLInputElement | HTMLSelectElement>('input, select');
      first?.focus();
      // what is typed takes the place of the default
      if (first instanceof HTMLInputElement) first.select();
    }, 40);
    return () => clearTimeout(later);
  }, [isThere]);
  if (!node) return null;
  const { left, top } = placeOf(rectOf(doc, kinds, node), view, size);
  return (
    <section
      ref={panel}
      data-above
      aria-label={`Main parameters of ${caption(node)}`}
      className="absolute z-10 flex w-60 flex-col gap-2 rounded border border-accent bg-panel p-2.5 text-sm shadow-md"
      style={{ left, top }}
      onKeyDown={(event) => {
        if (event.key !== 'Escape' && !(event.key === 'Enter' && event.ctrlKey)) return;
        event.stopPropagation();
        (document.activeElement as HTMLElement | null)?.blur();
        close();
      }}
    >
      {kinds
        .parameters(node.kind)
        .filter((spec) => spec.main)
        .slice(0, 4)
        .map((spec) => (
          <ParameterField
            key={spec.id}
            nodes={[node]}
            spec={spec}
            kinds={kinds}
            locked={!mayEdit(state) || node.locked === true}
          />
        ))}
      <Button className="h-7" title="Back to the canvas (Esc)" onClick={close}>
        Done
      </Button>
    </section>
  );
}
