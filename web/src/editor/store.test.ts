import { indexOf } from '@basitax/core/document/doc';
import { writeDoc } from '@basitax/core/document/file';
import { diff } from '@basitax/core/edit/diff';
import { apply, type Edit } from '@basitax/core/edit/step';
import { Transaction } from '@basitax/core/edit/transaction';
import { isDirty } from '@basitax/core/session/session';
import { catalogue } from '@basitax/demo/catalogue';
import { demoFiles } from '@basitax/demo/files';
import fc from 'fast-check';
import { beforeEach, describe, expect, it } from 'vitest';
import { redo, undo } from './history.ts';
import {
  commit,
  enterGraph,
  loadDocument,
  markSaved,
  select,
  showGraph,
  shownDoc,
  startSaving,
  takeInRevision,
  useEditor,
  viewControl,
  zoomTo,
} from './store.ts';

const file = demoFiles[0]!.build();
const names = new Map([...file.nodes.values()].map((node) => [node.name, node.id]));
const id = (name: string): string => names.get(name)!;
const state = () => useEditor.getState();
const edit = (make: (tx: Transaction) => void): Edit => {
  const tx = new Transaction(state().doc);
  make(tx);
  return tx.edit;
};
const label = (name: string, text: string): void =>
  commit(
    'Label',
    edit((tx) => tx.set('nodes', id(name), 'label', text)),
  );

beforeEach(() => {
  loadDocument({ fileId: 'dome-blend', title: 'Dome blend', readOnly: undefined, revision: 3, catalogue, doc: file });
  useEditor.setState({ window: { width: 1000, height: 700 } });
});

describe('history', () => {
  it('undoes and redoes edits with the selection that went with them', () => {
    select([id('Warp_1')]);
    commit(
      'Move',
      edit((tx) => tx.move(id('Warp_1'), 5, 6)),
      [id('Warp_2')],
    );
    expect(state().selection).toEqual([id('Warp_2')]);
    undo();
    expect([state().doc.nodes.get(id('Warp_1'))?.x, state().selection]).toEqual([
      file.nodes.get(id('Warp_1'))!.x,
      [id('Warp_1')],
    ]);
    redo();
    expect([state().doc.nodes.get(id('Warp_1'))?.x, state().selection]).toEqual([5, [id('Warp_2')]]);
  });

  it('comes back to the very document, however much was done and undone', () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.nat(20), fc.boolean()), { maxLength: 30 }), (acts) => {
        loadDocument({
          fileId: 'dome-blend',
          title: 'Dome blend',
          readOnly: undefined,
          revision: 3,
          catalogue,
          doc: file,
        });
        for (const [n, back] of acts) {
          if (back) undo();
          else label([...names.keys()][n % names.size]!, `L${n}`);
        }
        while (state().past.length > 0) undo();
        expect(writeDoc(state().doc)).toBe(writeDoc(file));
        expect(isDirty(state())).toBe(false);
        while (state().future.length > 0) redo();
        expect(state().past.length === 0 || isDirty(state())).toBe(true);
      }),
    );
  });

  it('forgets what was undone once something else is done', () => {
    label('Warp_1', 'one');
    undo();
    label('Warp_1', 'two');
    expect(state().future).toEqual([]);
    redo();
    expect(state().doc.nodes.get(id('Warp_1'))?.label).toBe('two');
  });

  it('is not touched by an edit that does nothing, nor while a preview is open', () => {
    commit('Nothing', { steps: [] });
    expect(state().past).toEqual([]);
    label('Warp_1', 'one');
    const planned = { edit: { steps: [] }, report: { summary: '', findings: [] }, review: undefined };
    useEditor.setState({
      preview: { title: 'Arrange', operation: 'arrange', options: {}, planned, after: file, select: [] },
    });
    expect(shownDoc(state())).toBe(file);
    undo();
    expect(state().past).toHaveLength(1);
    expect(showGraph('root', [])).toBe(false);
  });

  it('drops from the selection what is not there any more', () => {
    select([id('Warp_1'), id('black2')]);
    commit(
      'Delete',
      edit((tx) => tx.remove('nodes', id('black2'))),
    );
    expect(state().selection).toEqual([id('Warp_1')]);
    undo();
    expect(state().selection).toEqual([id('Warp_1'), id('black2')]);
  });
});

describe('saving', () => {
  it('knows what is saved, before and after, and over undo past the save', () => {
    expect(isDirty(state())).toBe(false);
    label('Warp_1', 'one');
    expect(isDirty(state())).toBe(true);
    markSaved(startSaving()!, 4, 'Dome blend');
    expect([isDirty(state()), state().revision]).toEqual([false, 4]);
    undo();
    expect(isDirty(state())).toBe(true);
    expect(diff(state().base, state().doc).steps).toHaveLength(1);
    redo();
    expect(isDirty(state())).toBe(false);
  });

  it('takes only what was sent for saved: what is done while it is on its way stays to be saved', () => {
    label('Warp_1', 'sent');
    const saving = startSaving()!;
    label('Warp_2', 'later');
    markSaved(saving, 4, 'Dome blend');
    expect([isDirty(state()), state().revision, state().saving]).toEqual([true, 4, undefined]);
    expect(diff(state().base, state().doc).steps).toMatchObject([{ id: id('Warp_2'), to: 'later' }]);
    undo();
    expect(isDirty(state())).toBe(false);
  });

  it('leaves another file alone that was opened while a save was on its way', () => {
    label('Warp_1', 'sent');
    const saving = startSaving()!;
    loadDocument({
      fileId: 'other',
      title: 'Other',
      readOnly: undefined,
      revision: 7,
      catalogue: state().catalogue,
      doc: file,
    });
    label('Warp_2', 'elsewhere');
    markSaved(saving, 4, 'Dome blend');
    expect([state().fileId, state().title, state().revision, isDirty(state())]).toEqual(['other', 'Other', 7, true]);
  });

  it('takes in a newer revision under one’s own acts, which stay to be undone; waits while a preview is open', () => {
    label('Warp_1', 'mine');
    const newer = apply(file, {
      steps: [{ type: 'set', table: 'nodes', id: id('Warp_2'), path: ['label'], to: 'theirs' }],
    });
    expect(takeInRevision(9, newer, 'Revision 9')).toBe(true);
    expect([state().revision, isDirty(state()), state().past.map((entry) => entry.title)]).toEqual([
      9,
      true,
      ['Label', 'Revision 9'],
    ]);
    expect([state().doc.nodes.get(id('Warp_1'))?.label, state().doc.nodes.get(id('Warp_2'))?.label]).toEqual([
      'mine',
      'theirs',
    ]);
    undo();
    expect(writeDoc(state().doc)).toBe(writeDoc(newer));
    expect(isDirty(state())).toBe(false);
    redo();
    expect(state().doc.nodes.get(id('Warp_1'))?.label).toBe('mine');
    const planned = { edit: { steps: [] }, report: { summary: '', findings: [] }, review: undefined };
    useEditor.setState({
      preview: { title: 'Arrange', operation: 'arrange', options: {}, planned, after: file, select: [] },
    });
    expect([takeInRevision(10, newer, 'Revision 10'), state().revision]).toEqual([false, 9]);
  });
});

describe('graphs and windows', () => {
  it('enters only graphs that are there, and asks the canvas to show them', () => {
    const before = state().lookAt.count;
    enterGraph('nowhere');
    expect(state().lookAt.count).toBe(before);
    enterGraph('root', [id('Warp_1')]);
    expect(state().lookAt).toEqual({ what: 'selection', count: before + 1 });
    const reef = demoFiles.find((one) => one.slug === 'reef-night')!.build();
    loadDocument({ fileId: 'reef-night', title: '', readOnly: undefined, revision: 1, catalogue, doc: reef });
    const host = [...reef.nodes.values()].find((node) => node.inner !== undefined)!;
    select([host.id]);
    enterGraph(host.inner!);
    expect([state().graph, state().selection, state().lookAt.what]).toEqual([host.inner, [], 'all']);
    expect(indexOf(state().doc).hostOf(state().graph)).toBe(host);
  });

  it('goes back to the outermost graph when undo takes the present one away', () => {
    const add = edit((tx) => tx.add('graphs', { id: 'extra', name: 'Extra' }));
    commit('Add', add);
    enterGraph('extra');
    undo();
    expect(state().graph).toBe('root');
  });

  it('zooms about the middle of the window', () => {
    viewControl.set({ x: 100, y: 50, zoom: 0.5 });
    const middle = () => ({
      x: (500 - state().view.x) / state().view.zoom,
      y: (350 - state().view.y) / state().view.zoom,
    });
    const before = middle();
    zoomTo(2);
    expect(state().view.zoom).toBe(2);
    expect(middle().x).toBeCloseTo(before.x, 9);
    expect(middle().y).toBeCloseTo(before.y, 9);
  });
});
