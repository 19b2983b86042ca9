import { caption, indexOf, nodesWithin } from '@basitax/core/document/doc';
import { titleOf } from '@basitax/core/document/geometry';
import { corners, type Frame, type Note } from '@basitax/core/document/schema';
import { must } from '@basitax/core/must';
import { plural } from '@basitax/core/words';
import type { ReactNode } from 'react';
import { Button, Field } from '../../ui/controls.tsx';
import { perform } from '../actions.ts';
import { type Editing, select } from '../store.ts';
import { ColorField } from './color-field.tsx';
import { Draft } from './draft.tsx';

interface PanelProps<T> {
  readonly item: T;
  readonly state: Editing;
  readonly locked: boolean;
}

const Act = ({ id, item, title, locked }: { id: string; item: string; title: string; locked: boolean }): ReactNode => (
  <Button
    className="px-1.5 text-xs"
    dim={locked ? 'Nothing can be changed now.' : undefined}
    onClick={() => void perform(id, {}, [item])}
  >
    {title}
  </Button>
);

/** A frame: its words, colour, members and what can be done with it. */
export function FramePanel({ item: frame, state, locked }: PanelProps<Frame>): ReactNode {
  const members = indexOf(state.doc).membersOf(frame.id);
  const all = nodesWithin(state.doc, frame.id);
  const inner = indexOf(state.doc).framesWithin(frame.id);
  const parent = state.doc.frames.get(frame.parent ?? '');
  const act = (id: string, title: string): ReactNode => <Act id={id} item={frame.id} title={title} locked={locked} />;
  return (
    <div className="flex flex-col gap-3">
      <div>
        <h2 className="font-bold break-words">{titleOf(frame)}</h2>
        <p className="text-soft">
          Frame with {plural(all.length, 'node')}
          {inner.length > 0 && ` and ${plural(inner.length, 'frame')}`}
          {parent && `, in “${titleOf(parent)}”`}
          {frame.folded && ', folded'}
        </p>
      </div>
      <Field label="Title">
        <Draft value={frame.title} locked={locked} onTake={(title) => perform('frame-title', { title }, [frame.id])} />
      </Field>
      <Field label="Note" hint="what it is about">
        <Draft
          long
          value={frame.note ?? ''}
          locked={locked}
          onTake={(note) => perform('frame-note', { note }, [frame.id])}
        />
      </Field>
      <ColorField
        label="Colour"
        value={frame.color}
        none="None"
        locked={locked}
        onTake={(color) => void perform('color', { color }, [frame.id])}
      />
      <div className="grid grid-cols-3 gap-1.5">
        {frame.folded ? act('unfold', 'Unfold') : act('fold', 'Fold')}
        {act('frame-fit', 'Fit')}
        {act('nest', 'Nest')}
        {act('frame-front', 'To front')}
        {act('frame-back', 'To back')}
        {act('leave-frame', 'Leave outer')}
      </div>
      <Button
        dim={all.length === 0 ? 'It is empty.' : undefined}
        onClick={() => select(members.length > 0 ? members.map((node) => node.id) : all.map((node) => node.id))}
      >
        Select its nodes
      </Button>
      <p className="text-xs text-soft">
        Drag the tab to move the frame with its contents, or a handle to resize it. Hold Ctrl while dragging something
        to add it to a frame or take it out.
      </p>
    </div>
  );
}

const cornerWords = {
  'top-left': 'upper left',
  'top-right': 'upper right',
  'bottom-left': 'lower left',
  'bottom-right': 'lower right',
} as const;

/** A note or drawn mark: its text, what it is tied to, its colour. */
export function NotePanel({ item: note, state, locked }: PanelProps<Note>): ReactNode {
  const node = state.doc.nodes.get(note.tiedTo ?? '');
  const frame = state.doc.frames.get(note.tiedTo ?? '');
  const change = (options: object): void => void perform('note-change', { ...options }, [note.id]);
  const others = state.selection.filter(
    (id) => id !== note.id && (state.doc.nodes.has(id) || state.doc.frames.has(id)),
  );
  const goals = indexOf(state.doc).nodesIn(note.graph).length + indexOf(state.doc).framesIn(note.graph).length;
  return (
    <div className="flex flex-col gap-3">
      <h2 className="font-bold">{note.mark ? { arrow: 'Arrow', line: 'Line', ring: 'Ring' }[note.mark] : 'Note'}</h2>
      <Field
        label={note.mark ? 'Text next to the mark' : 'Text'}
        hint={note.mark ? undefined : 'Markdown; press Ctrl+Enter when done'}
      >
        <Draft long={!note.mark} value={note.text} locked={locked} onTake={async (text) => change({ text })} />
      </Field>
      {note.mark && note.mark !== 'ring' && (
        <Field label="Leads to">
          <select
            className="h-8 rounded-sm border border-edge bg-ticket px-2"
            value={note.towards ?? 'bottom-right'}
            disabled={locked}
            onChange={(event) => change({ towards: event.target.value })}
          >
            {corners.map((corner) => (
              <option key={corner} value={corner}>
                {cornerWords[corner]}
              </option>
            ))}
          </select>
        </Field>
      )}
      <ColorField
        label="Colour"
        value={note.color}
        none="None"
        locked={locked}
        onTake={(color) => void perform('color', { color }, [note.id])}
      />
      <div className="flex flex-col gap-1.5">
        <span className="text-soft">
          {node || frame ? (
            <>
              Tied to{' '}
              <button type="button" className="text-ink underline" onClick={() => select([must(note.tiedTo)])}>
                {node ? caption(node) : titleOf(must(frame))}
              </button>
            </>
          ) : (
            'Not tied: it stays where it is.'
          )}
        </span>
        {node || frame ? (
          <Button dim={locked ? 'Nothing can be changed now.' : undefined} onClick={() => change({ tiedTo: '' })}>
            Set it free
          </Button>
        ) : (
          <p className="text-xs text-soft">
            {others.length > 0 || goals === 0
              ? ''
              : 'To tie it, select it and a node or frame together, and choose “Tie the note” in the palette.'}
          </p>
        )}
      </div>
    </div>
  );
}
