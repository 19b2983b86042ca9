import { catalogue } from '@basitax/demo/catalogue';
import { demoFiles } from '@basitax/demo/files';
import fc from 'fast-check';
import { beforeEach, describe, expect, it } from 'vitest';
import { goTo, readAddress, writeAddress } from './address.ts';
import { loadDocument, useEditor } from './store.ts';

const reef = demoFiles.find((file) => file.slug === 'reef-night')!.build();
const host = [...reef.nodes.values()].find((node) => node.inner !== undefined)!;
const inside = [...reef.nodes.values()].find((node) => node.graph === host.inner)!;
const state = () => useEditor.getState();

beforeEach(() =>
  loadDocument({ fileId: 'reef-night', title: 'Reef night', readOnly: undefined, revision: 1, catalogue, doc: reef }),
);

describe('addresses', () => {
  it('say graph, selection and window, and lead back there', () => {
    const ids = [...reef.nodes.values()].filter((node) => node.graph === 'root').map((node) => node.id);
    fc.assert(
      fc.property(
        fc.boolean(),
        fc.subarray(ids.slice(0, 12)),
        fc.integer({ min: -9999, max: 9999 }),
        fc.integer({ min: -9999, max: 9999 }),
        fc.integer({ min: 20, max: 4000 }),
        (nested, items, x, y, zoom) => {
          const view = { x, y, zoom: zoom / 1000 };
          const selection = nested ? [inside.id] : items;
          useEditor.setState({ graph: nested ? host.inner! : 'root', selection, view });
          const address = writeAddress(state());
          loadDocument({
            fileId: 'reef-night',
            title: 'Reef night',
            readOnly: undefined,
            revision: 1,
            catalogue,
            doc: reef,
          });
          goTo(address);
          expect([state().graph, state().selection, state().view]).toEqual([
            nested ? host.inner : 'root',
            selection,
            view,
          ]);
        },
      ),
    );
  });

  it('of a node alone finds its graph and shows it', () => {
    goTo(`?node=${inside.id}`);
    expect([state().graph, state().selection, state().lookAt.what]).toEqual([host.inner, [inside.id], 'selection']);
  });

  it('pass over what is not there, and what is not a window', () => {
    goTo('?graph=nowhere&node=gone&view=1,2');
    expect([state().graph, state().selection, state().lookAt.what]).toEqual(['root', [], 'all']);
    expect(readAddress('?view=a,b,c').view).toBeUndefined();
    expect(readAddress('?view=1,2,-3').view).toBeUndefined();
    expect(readAddress('').items).toEqual([]);
  });

  it('leave a large selection out, since no browser takes addresses of any length', () => {
    useEditor.setState({ selection: [...reef.nodes.keys()] });
    expect(writeAddress(state()).length).toBeLessThan(200);
  });
});
