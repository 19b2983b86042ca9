import { wideKinds as kinds, sketchDoc } from '@basitax/core/tests/arbitrary';
import { expect, it } from 'vitest';
import { lookedUpFor } from './questions.ts';

it('looks up for a node what people mean first: its shared kind, beacon, asset, else its kind', () => {
  const { doc } = sketchDoc()
    .node('a', 'shared.glow.2')
    .node('b', 'std.beacon', { name: 'Moon' })
    .node('t', 'std.tap', { beacon: { name: 'Moon' } })
    .node('r', 'reader', { params: { file: 'maps/kelp.exr' } })
    .node('e', 'reader')
    .node('s', 'src');
  const asked = (id: string) => lookedUpFor({ doc, kinds, selection: [id] });
  expect(['a', 'b', 't', 'r', 'e', 's'].map(asked)).toEqual([
    { what: 'shared', name: 'glow' },
    { what: 'beacon', name: 'Moon' },
    { what: 'beacon', name: 'Moon' },
    { what: 'asset', name: 'maps/kelp.exr' },
    { what: 'kind', name: 'reader' },
    { what: 'kind', name: 'src' },
  ]);
  expect(lookedUpFor({ doc, kinds, selection: [] })).toBeUndefined();
});
