import type { Id } from '@basitax/core/document/ids';
import type { Note } from '@basitax/core/document/schema';
import { lazy, type ReactNode, Suspense } from 'react';
import { useEditor } from '../store.ts';
import { readingZoom } from './paint/picture.ts';
import type { Scene } from './scene.ts';

// the reader of Markdown comes when there is a note to be read
const Markdown = lazy(() => import('react-markdown'));

/**
 * Notes are few, so that all of a graph stand as elements while they can be read; the canvas draws their boxes, and
 * everything while the window moves.
 */
export function NoteLayer({ scene, selected }: { scene: Scene; selected: ReadonlySet<Id> }): ReactNode {
  const canRead = useEditor((state) => state.view.zoom >= readingZoom);
  const moving = useEditor((state) => state.moving);
  if (!canRead) return null;
  return scene.notes
    .filter((note) => !note.mark)
    .map((note) => (
      <NoteView
        key={note.id}
        note={note}
        selected={selected.has(note.id)}
        dx={moving?.ids.has(note.id) ? moving.dx : 0}
        dy={moving?.ids.has(note.id) ? moving.dy : 0}
      />
    ));
}

function NoteView({ note, selected, dx, dy }: { note: Note; selected: boolean; dx: number; dy: number }): ReactNode {
  return (
    <div
      role="note"
      // biome-ignore lint/a11y/noNoninteractiveTabindex: notes are walked through by key like nodes
      tabIndex={0}
      aria-label={`Note${selected ? ', selected' : ''}`}
      data-note={note.id}
      className="note-text"
      style={{ left: note.x + dx, top: note.y + dy, width: note.width, height: note.height }}
    >
      <Suspense fallback={note.text}>
        <Markdown
          disallowedElements={['img']}
          components={{
            a: ({ href, children }) => (
              <a href={href} target="_blank" rel="noreferrer noopener" className="pointer-events-auto underline">
                {children}
              </a>
            ),
          }}
        >
          {note.text}
        </Markdown>
      </Suspense>
      {note.text === '' && <span className="text-soft">Empty note: double press to write.</span>}
    </div>
  );
}
