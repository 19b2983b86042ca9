import { caption, type Doc, graphPath } from '@basitax/core/document/doc';
import { titleOf } from '@basitax/core/document/geometry';
import type { Id } from '@basitax/core/document/ids';
import type { Kinds } from '@basitax/core/document/kinds';
import type { Change } from '@basitax/core/inspect/compare/compare';
import { plural } from '@basitax/core/words';
import { type ReactNode, useState } from 'react';
import { openMenuOf } from '../menu/menu.ts';
import { enterGraph, select } from '../store.ts';

/** How a thing is called in lists, and what it is. */
export function called(doc: Doc, kinds: Kinds, id: Id): { title: string; about: string; graph: Id | undefined } {
  const node = doc.nodes.get(id);
  if (node) return { title: caption(node), about: kinds.title(node.kind), graph: node.graph };
  const frame = doc.frames.get(id);
  if (frame) return { title: titleOf(frame), about: 'frame', graph: frame.graph };
  const note = doc.notes.get(id);
  return note
    ? { title: note.text.split('\n')[0] || 'Note', about: 'note', graph: note.graph }
    : { title: id, about: '', graph: doc.graphs.has(id) ? id : undefined };
}

/** Goes to a thing, wherever it lies in the file. */
export function goTo(doc: Doc, kinds: Kinds, id: Id): void {
  const { graph } = called(doc, kinds, id);
  if (graph !== undefined) enterGraph(graph, [id]);
}

/** Where a thing lies, where that is not the graph that is shown. */
export function whereIs(doc: Doc, graph: Id | undefined, here: Id): string {
  if (graph === undefined || graph === here) return '';
  return graphPath(doc, graph)
    .slice(1)
    .map((id) => doc.graphs.get(id)?.name ?? id)
    .join(' / ');
}

/** Things in a list, each to be gone to; long ones show their beginning first. */
export function Things({
  doc,
  kinds,
  here,
  ids,
  label,
  before,
  after,
  first = 100,
}: {
  doc: Doc;
  kinds: Kinds;
  here: Id;
  ids: readonly Id[];
  label: string;
  before?: (id: Id) => ReactNode;
  after?: (id: Id) => ReactNode;
  /** So many are shown at first. */
  first?: number;
}): ReactNode {
  const [most, setMost] = useState(first);
  const there = ids.filter((id) => called(doc, kinds, id).graph !== undefined);
  return (
    <ul aria-label={label}>
      {there.slice(0, most).map((id) => {
        const { title, about, graph } = called(doc, kinds, id);
        const where = whereIs(doc, graph, here);
        return (
          <li
            key={id}
            className="flex items-baseline gap-1.5 border-b border-line py-0.5"
            onContextMenu={(event) => openMenuOf([id], event)}
          >
            {before?.(id)}
            <button
              type="button"
              className="min-w-0 flex-1 truncate text-left hover:underline"
              title={`Go to ${title}`}
              onClick={() => goTo(doc, kinds, id)}
            >
              {title} <span className="text-xs text-soft">{where === '' ? about : `${about}, in ${where}`}</span>
            </button>
            {after?.(id)}
          </li>
        );
      })}
      {there.length > most && (
        <li>
          <button type="button" className="py-1 text-xs text-soft underline" onClick={() => setMost(most * 5)}>
            {(there.length - most).toLocaleString('en')} more
          </button>
        </li>
      )}
    </ul>
  );
}

/** Selects things of the graph that is shown. */
export function SelectAll({ ids }: { ids: readonly Id[] }): ReactNode {
  return (
    <button type="button" className="text-xs whitespace-nowrap text-soft underline" onClick={() => select(ids)}>
      select
    </button>
  );
}

/** A part of a panel under a heading, with something at its right. */
export function Part({ title, aside, children }: { title: string; aside?: ReactNode; children: ReactNode }): ReactNode {
  return (
    <section className="flex flex-col gap-1">
      <h3 className="flex items-baseline gap-2 font-bold">
        <span className="min-w-0 flex-1">{title}</span>
        {aside !== undefined && <span className="text-xs font-normal text-soft tabular-nums">{aside}</span>}
      </h3>
      {children}
    </section>
  );
}

export const changeKey = ({ type, before, after, part, nodes, sentence }: Change): string =>
  `${type} ${before} ${after} ${part} ${nodes ? sentence : ''}`;

/** What only follows from a change, folded under it. */
export function Consequences({ of, row }: { of: Change; row(change: Change): ReactNode }): ReactNode {
  const { consequences } = of;
  if (!consequences) return null;
  const rest = consequences.length - mostFolded;
  return (
    <details className="pl-3">
      <summary className="text-xs text-soft">
        {of.nodes ? 'Each of them' : `${plural(consequences.length, 'change')} that follow from it`}
      </summary>
      <ul>
        {consequences.slice(0, mostFolded).map((one) => (
          <li key={changeKey(one)}>{row(one)}</li>
        ))}
        {rest > 0 && <li className="text-xs text-soft">{plural(rest, 'change')} more</li>}
      </ul>
    </details>
  );
}

const mostFolded = 200;

/** In place of an answer: while it is worked out, or where it cannot be had. */
export function Waiting({ problem, what }: { problem: string | undefined; what: string }): ReactNode {
  return problem ? (
    <p role="alert" className="text-warn">
      {problem}
    </p>
  ) : (
    <p role="status" className="text-soft">
      {what} …
    </p>
  );
}
