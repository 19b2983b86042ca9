import type { Doc } from '../document/doc.ts';
import { frameRects } from '../document/geometry.ts';
import type { Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import type { Note } from '../document/schema.ts';
import { apply, type Edit } from '../edit/step.ts';
import { Transaction } from '../edit/transaction.ts';
import { must } from '../must.ts';

/**
 * The edit with the notes that follow what it moves: a note that is tied to a node or frame keeps its place beside it,
 * unless the edit moves or changes it itself, or brings one of them into another graph. O(notes tied · members of
 * frames).
 */
export function withFollowers(doc: Doc, kinds: Kinds, edit: Edit): Edit {
  const own = new Set<Id>();
  const movers = new Set<Id>();
  for (const step of edit.steps) {
    if (step.table === 'notes') own.add(step.id);
    else if (step.type === 'set' && step.table === 'nodes' && (step.path[0] === 'x' || step.path[0] === 'y'))
      movers.add(step.id);
    else if (step.type === 'set' && step.table === 'frames') movers.add(step.id);
  }
  if (movers.size === 0) return edit;
  const tied = [...doc.notes.values()].filter((note) => note.tiedTo !== undefined && !own.has(note.id));
  if (tied.length === 0) return edit;
  const after = apply(doc, edit);
  const rects = new Map<string, ReturnType<typeof frameRects>>();
  const corner = (at: Doc, note: Note): { x: number; y: number } | undefined => {
    const node = at.nodes.get(must(note.tiedTo));
    if (node) return node.graph === note.graph ? node : undefined;
    const key = `${at === doc} ${note.graph}`;
    if (!rects.has(key)) rects.set(key, frameRects(at, kinds, note.graph));
    return must(rects.get(key)).get(must(note.tiedTo));
  };
  const tx = new Transaction(after);
  for (const note of tied) {
    const [before, now] = [corner(doc, note), corner(after, note)];
    if (!before || !now || (before.x === now.x && before.y === now.y)) continue;
    tx.set('notes', note.id, 'x', note.x + now.x - before.x);
    tx.set('notes', note.id, 'y', note.y + now.y - before.y);
  }
  return { steps: [...edit.steps, ...tx.edit.steps] };
}
