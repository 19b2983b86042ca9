import { expect, it } from 'vitest';
import { measureGraph } from '../inspect/measure.ts';
import { createContext } from '../operation.ts';
import { act } from '../tests/acts.ts';
import { testKinds } from '../tests/arbitrary.ts';
import { modulesDoc } from '../tests/modules.ts';
import { worstOutputs } from './worst.ts';

it('the worst outputs are at most three, each saves what linking it alone saves, and nothing where nothing hurts', async () => {
  const doc = modulesDoc(1);
  const { doc: arranged } = await act('arrange', doc, []);
  const found = worstOutputs(createContext(testKinds, 1), doc, { graph: 'root', items: [] }, {});
  expect(found.length).toBeGreaterThan(0);
  expect(found.length).toBeLessThanOrEqual(3);
  const before = measureGraph(arranged, testKinds, 'root');
  for (const { saves, wires } of found) {
    expect(wires).toBeGreaterThan(0);
    // no more can be saved than there is
    expect(saves.crossings).toBeLessThanOrEqual(before.crossings);
    expect(saves.crossings + saves.windows).toBeGreaterThan(0);
  }
  const one = [...doc.nodes.keys()].slice(0, 1);
  const lonely = worstOutputs(
    createContext(testKinds, 1),
    { ...doc, wires: new Map() },
    { graph: 'root', items: one },
    {},
  );
  expect(lonely).toEqual([]);
});
