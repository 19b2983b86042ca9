import { indexOf } from '@basitax/core/document/doc';
import { operationById } from '@basitax/core/operations';
import { catalogue } from '@basitax/demo/catalogue';
import { demoFiles } from '@basitax/demo/files';
import { toast } from 'sonner';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { copy, hint, mustAsk, paste, perform, setParameter, unhint, whyNot } from './actions.ts';
import { undo } from './history.ts';
import { loadDocument, select, useEditor } from './store.ts';

const file = demoFiles[0]!.build();
const id = (name: string): string => [...file.nodes.values()].find((node) => node.name === name)!.id;
const state = () => useEditor.getState();
const blends = ['Blend_1', 'Blend_2', 'Blend_3', 'Blend_4'].map(id);

// toasts go with a frame
vi.stubGlobal('requestAnimationFrame', (then: () => void) => setTimeout(then, 0));

beforeEach(async () => {
  loadDocument({ fileId: 'dome-blend', title: 'Dome blend', readOnly: undefined, revision: 1, catalogue, doc: file });
  useEditor.setState({ window: { width: 1000, height: 700 } });
  // what was said of the file before has gone
  await new Promise((done) => setTimeout(done, 1));
});

describe('acts that are done at once', () => {
  it('are done, kept in the history, and leave a ghost of the old places', async () => {
    select(blends);
    await perform('align-left');
    const xs = blends.map((blend) => state().doc.nodes.get(blend)!.x);
    expect(new Set(xs).size).toBe(1);
    expect(state().past.map((entry) => entry.title)).toEqual(['Align left edges']);
    const { outlines } = state();
    expect(outlines?.since).toBeTypeOf('number');
    for (const [node, place] of outlines!.places)
      expect(place).toMatchObject({ x: file.nodes.get(node)!.x, y: file.nodes.get(node)!.y });
    undo();
    expect([state().doc.nodes.get(blends[0]!)!.x, state().outlines]).toEqual([
      file.nodes.get(blends[0]!)!.x,
      undefined,
    ]);
  });

  it('offer to take back themselves, and no other act: not once something was done after them', async () => {
    const offer = (text: RegExp) =>
      toast
        .getToasts()
        .flatMap((one) =>
          'title' in one && text.test(String(one.title)) ? [one.action as { onClick(): void } | undefined] : [],
        )[0];
    select(blends);
    await perform('nudge', { direction: 'down' });
    const first = offer(/^Nudged/);
    expect(first).toBeDefined();
    await perform('bypass');
    expect(offer(/^Nudged/)).toBeUndefined();
    first!.onClick();
    expect(state().past).toHaveLength(2);
    undo();
    undo();
    expect(state().past).toHaveLength(0);
  });

  it('show where they would put things while they are pointed at, and change nothing', async () => {
    select(blends);
    await hint('align-top');
    const top = Math.min(...blends.map((blend) => file.nodes.get(blend)!.y));
    expect([...state().outlines!.places.values()].every((place) => place.y === top)).toBe(true);
    expect([state().doc, state().past.length]).toEqual([file, 0]);
    unhint();
    expect(state().outlines).toBeUndefined();
    await hint('pin');
    await hint('delete');
    await hint('arrange');
    expect(state().outlines).toBeUndefined();
  });

  it('are refused with nothing done: too little selected, a read-only file, a value that does not fit', async () => {
    await perform('align-left');
    select(blends);
    await setParameter([blends[0]!], 'width', -4);
    expect(state().past).toEqual([]);
    useEditor.setState({ readOnly: 'Only to be looked at.' });
    await perform('align-left');
    expect(state().doc).toBe(file);
    expect(whyNot(operationById('align-left'), state())).toBe('Only to be looked at.');
  });

  it('say why they cannot be done, in the order in which it matters', () => {
    const align = operationById('align-left');
    expect(whyNot(align, state())).toBe('Select at least 2 nodes first.');
    useEditor.setState({ job: { title: 'x', fraction: 0, what: '', cancel: () => {} } });
    expect(whyNot(align, state())).toContain('Wait');
    expect([mustAsk(operationById('rename')), mustAsk(align)]).toEqual([true, false]);
  });
});

describe('copying', () => {
  it('pastes what was copied at the middle of the window, with free names, and selects it', async () => {
    select([id('Warp_1'), id('Blend_1')]);
    expect(copy()).toContain('basitax-graph');
    useEditor.setState({ view: { x: -2000, y: -2000, zoom: 1 } });
    await paste();
    const [warp, blend] = state().selection.map((one) => state().doc.nodes.get(one)!);
    expect([warp!.name, blend!.name].sort()).toEqual(['Blend_5', 'Warp_5']);
    expect(Math.min(warp!.x, blend!.x)).toBe(2440);
    expect(indexOf(state().doc).wiresOf(warp!.id)).toHaveLength(1);
    await paste('not a graph at all');
    expect(state().past).toHaveLength(1);
  });

  it('selects all of the graph that is shown', async () => {
    await perform('select-all');
    expect(state().selection).toHaveLength(file.nodes.size);
  });
});
