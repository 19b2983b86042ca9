import { describe, expect, it } from 'vitest';
import { builtin } from '../document/builtin.ts';
import { emptyDoc } from '../document/doc.ts';
import { rebase } from '../edit/rebase.ts';
import { apply } from '../edit/step.ts';
import { copyText } from '../structure/clipboard.ts';
import { membersOfSet, setsOf } from '../structure/sets.ts';
import { act } from '../tests/acts.ts';
import { sketchDoc, testKinds } from '../tests/arbitrary.ts';

const pad = () =>
  sketchDoc()
    .frame('f')
    .graph('g')
    .node('h', builtin.nested, { inner: 'g' })
    .node('a', 'src', { x: 100, y: 200, frame: 'f' })
    .node('b', 'add', { x: 300, y: 200 })
    .node('i', 'add', { graph: 'g' });

describe('notes', () => {
  it('stand at a place, or above what they are tied to, and are changed', async () => {
    const free = await act('note', pad().doc, [], { text: '**Tide** first', x: 10, y: 20 });
    const id = free.report.select![0]!;
    expect(free.doc.notes.get(id)).toMatchObject({ x: 10, y: 20, text: '**Tide** first', graph: 'root' });
    const tied = await act('note', pad().doc, ['a']);
    const note = tied.doc.notes.get(tied.report.select![0]!)!;
    expect([note.tiedTo, note.x, note.y + note.height < 200]).toEqual(['a', 100, true]);
    const changed = await act('note-change', free.doc, [id], { text: 'new', width: 300, tiedTo: 'f' });
    expect(changed.doc.notes.get(id)).toMatchObject({ text: 'new', width: 300, x: 10, tiedTo: 'f' });
    expect('tiedTo' in (await act('note-change', changed.doc, [id], { tiedTo: '' })).doc.notes.get(id)!).toBe(false);
    await expect(act('note-change', free.doc, [id], { tiedTo: 'i' })).rejects.toThrow('something of its own graph');
    await expect(act('note-change', free.doc, [id], { tiedTo: 'nothing' })).rejects.toThrow(
      'no node or frame “nothing”',
    );
    await expect(act('note-change', free.doc, ['a'], {})).rejects.toThrow('Select a note first.');
  });

  it('may be marks that point at something', async () => {
    const ring = await act('mark', pad().doc, ['a'], { mark: 'ring' });
    const around = ring.doc.notes.get(ring.report.select![0]!)!;
    expect([around.mark, around.x < 100, around.x + around.width > 200, around.tiedTo]).toEqual([
      'ring',
      true,
      true,
      'a',
    ]);
    const arrow = await act('mark', pad().doc, ['b'], { text: 'here' });
    expect(arrow.doc.notes.get(arrow.report.select![0]!)).toMatchObject({
      mark: 'arrow',
      towards: 'bottom-right',
      text: 'here',
    });
  });
});

describe('named sets', () => {
  it('hold nodes of any frame and graph, and switch them all', async () => {
    const { doc, report } = await act('set-make', pad().doc, ['a', 'h'], { name: 'Night only' });
    expect(report.summary).toBe('Made the set “Night only” of 2 nodes.');
    const { id } = setsOf(doc)[0]!;
    const inner = apply(doc, { steps: [{ type: 'set', table: 'nodes', id: 'i', path: ['sets', id], to: true }] });
    expect(membersOfSet(inner, id).map((node) => node.id)).toEqual(['a', 'h', 'i']);
    const selected = await act('select-set', inner, ['b'], { set: 'night only', add: true });
    expect([selected.report.select, selected.report.summary]).toEqual([
      ['b', 'a', 'h'],
      'Selected 2 nodes of “Night only”; 1 more lies in other graphs.',
    ]);
    const off = await act('set-switch', inner, [], { set: id, what: 'bypassed' });
    expect(['a', 'h', 'i', 'b'].map((one) => off.doc.nodes.get(one)!.bypassed === true)).toEqual([
      true,
      true,
      true,
      false,
    ]);
    const less = await act('set-remove', inner, ['a', 'b'], { set: id });
    expect(membersOfSet(less.doc, id).map((node) => node.id)).toEqual(['h', 'i']);
    const renamed = await act('set-rename', inner, [], { set: id, name: 'Storm' });
    expect(setsOf(renamed.doc)).toEqual([{ id, name: 'Storm' }]);
    const gone = await act('set-rename', inner, [], { set: id });
    expect([gone.doc.head.sets, gone.doc.nodes.get('i')!.sets]).toEqual([undefined, undefined]);
    await expect(act('set-make', inner, ['b'], { name: 'NIGHT ONLY' })).rejects.toThrow(
      'There is a set “NIGHT ONLY” already',
    );
    await expect(act('set-add', inner, ['b'], { set: 'Dawn' })).rejects.toThrow('no set “Dawn”');
  });

  it('merge where two people add to one, and mean nothing in another file', async () => {
    const { doc } = await act('set-make', pad().doc, ['a'], { name: 'Night' });
    const { id } = setsOf(doc)[0]!;
    const [mine, theirs] = [
      await act('set-add', doc, ['b'], { set: id }),
      await act('set-add', doc, ['h'], { set: id }),
    ];
    const both = rebase(mine.edit, theirs.edit, theirs.doc, testKinds);
    expect(both.conflicts).toEqual([]);
    expect(membersOfSet(apply(theirs.doc, both.edit), id).map((node) => node.id)).toEqual(['a', 'b', 'h']);
    const text = copyText(doc, testKinds, { graph: 'root', items: ['a'] });
    const other = await act('paste', emptyDoc('other', 'Other', { id: 'test', version: 1 }), [], { text });
    expect([...other.doc.nodes.values()].map((node) => node.sets)).toEqual([undefined]);
  });
});

describe('own colours', () => {
  it('are given to nodes, frames and notes, and taken away', async () => {
    const { doc } = await act('color', pad().doc, ['a', 'f'], { color: '#D55E00' });
    expect([doc.nodes.get('a')!.color, doc.frames.get('f')!.color, doc.nodes.get('b')!.color]).toEqual([
      '#d55e00',
      '#d55e00',
      undefined,
    ]);
    expect('color' in (await act('color', doc, ['a'], {})).doc.nodes.get('a')!).toBe(false);
    await expect(act('color', doc, ['a'], { color: 'tomato' })).rejects.toThrow('“tomato” is not a colour');
  });
});
