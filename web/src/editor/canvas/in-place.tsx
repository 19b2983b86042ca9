import { indexOf } from '@basitax/core/document/doc';
import { nameProblem } from '@basitax/core/document/names';
import { type ReactNode, useEffect, useRef, useState } from 'react';
import { perform } from '../actions.ts';
import { focusCanvas } from '../dialogs.ts';
import { type InPlace, useInPlace, writeInPlace } from '../in-place.ts';
import { useEditing, useEditor } from '../store.ts';
import type { Scene } from './scene.ts';

const words = {
  name: 'Name',
  label: 'Label',
  title: 'Title of the frame',
  note: 'Text of the note, as Markdown',
} as const;

function act({ id, what }: InPlace, text: string): Promise<void> {
  switch (what) {
    case 'name':
      return perform('rename', { name: text }, [id]);
    case 'label':
      return perform('label', { label: text }, [id]);
    case 'title':
      return perform('frame-title', { title: text }, [id]);
    case 'note':
      return perform('note-change', { text }, [id]);
  }
}

/**
 * A field at the place of what is written anew: Enter takes it, Escape gives it back; what is refused stays, with the
 * reason.
 */
export function InPlaceEditor({ scene }: { scene: Scene }): ReactNode {
  const inPlace = useInPlace((state) => state.inPlace);
  const graph = useEditor((state) => state.graph);
  // what lies in another graph is not written here
  // biome-ignore lint/correctness/useExhaustiveDependencies: leaving a graph ends it
  useEffect(() => () => writeInPlace(undefined), [graph]);
  return inPlace && <Editor key={`${inPlace.what} ${inPlace.id}`} inPlace={inPlace} scene={scene} />;
}

function Editor({ inPlace, scene }: { inPlace: InPlace; scene: Scene }): ReactNode {
  const { doc } = useEditing();
  const view = useEditor((state) => state.view);
  const { id, what } = inPlace;
  const node = doc.nodes.get(id);
  const frame = doc.frames.get(id);
  const note = doc.notes.get(id);
  const before =
    what === 'name' ? node?.name : what === 'label' ? node?.label : what === 'title' ? frame?.title : note?.text;
  const [text, setText] = useState(before ?? '');
  const isOver = useRef(false);
  const rect = scene.rectOf(id);
  if (!rect || (!node && !frame && !note)) return null;
  const problem = what === 'name' && node ? nameProblem(doc, node.graph, text, node.id) : undefined;
  const end = (): void => {
    // leaving the field, which follows, takes nothing any more
    isOver.current = true;
    writeInPlace(undefined);
    focusCanvas();
  };
  const take = (): void => {
    if (problem || isOver.current) return;
    if (text !== (before ?? '')) void act(inPlace, text);
    end();
  };
  const place = { left: Math.max(4, rect.x * view.zoom + view.x), top: Math.max(4, rect.y * view.zoom + view.y) };
  const field = {
    'aria-label': words[what],
    'aria-invalid': problem !== undefined,
    value: text,
    autoFocus: true,
    onBlur: () => (problem && !isOver.current ? end() : take()),
    onFocus: (event: React.FocusEvent<HTMLInputElement | HTMLTextAreaElement>) => event.target.select(),
  };
  const isLong = what === 'note' && !note?.mark;
  return (
    <div
      data-above
      className="absolute z-20 flex flex-col gap-1 rounded border-2 border-accent bg-panel p-1 shadow-md"
      style={place}
    >
      <span className="px-1 text-[11px] text-soft">
        {words[what]}
        {what === 'name' && node && indexOf(doc).nodesNamed(node.name).length > 1 && ', unique in its graph'}
        {isLong && '; press Ctrl+Enter when done'}
      </span>
      {isLong ? (
        <textarea
          {...field}
          className="resize rounded-sm border border-edge bg-ticket p-1.5 font-mono text-xs"
          style={{ width: Math.max(260, rect.width * view.zoom), height: Math.max(120, rect.height * view.zoom) }}
          onChange={(event) => setText(event.target.value)}
          onKeyDown={(event) => {
            event.stopPropagation();
            if (event.key === 'Enter' && (event.ctrlKey || event.metaKey)) take();
            if (event.key === 'Escape') end();
          }}
        />
      ) : (
        <input
          {...field}
          className="h-7 w-56 rounded-sm border border-edge bg-ticket px-1.5 text-sm"
          onChange={(event) => setText(event.target.value)}
          onKeyDown={(event) => {
            event.stopPropagation();
            if (event.key === 'Enter') take();
            if (event.key === 'Escape') end();
          }}
        />
      )}
      {problem && (
        <span role="alert" className="max-w-64 px-1 text-xs text-warn">
          {problem.message}
        </span>
      )}
    </div>
  );
}
