import { expect, it } from 'vitest';
import { createContext } from '../operation.ts';
import { act } from '../tests/acts.ts';
import { testKinds } from '../tests/arbitrary.ts';
import { modulesDoc } from '../tests/modules.ts';
import { measureGraph } from './measure.ts';
import { type ProposalName, proposals, propose } from './proposals.ts';

const window = { width: 1280, height: 800 };

it('proposals come to what arranging with their options comes to, and the one with the fewest crossings has them', async () => {
  const doc = modulesDoc(1);
  const names = Object.keys(proposals) as ProposalName[];
  const found = names.map((name) =>
    propose(createContext(testKinds, 1), doc, { graph: 'root', items: [] }, name, window),
  );
  for (const one of found) {
    const { doc: after } = await act('arrange', doc, [], one.options);
    expect(measureGraph(after, testKinds, 'root').crossings).toBe(one.crossings);
    expect(one.zoom).toBeGreaterThan(0);
    expect(one.sketch.nodes).toHaveLength(5 * doc.nodes.size);
  }
  const fewest = found[names.indexOf('crossings')]!;
  expect(fewest.crossings).toBe(Math.min(...found.filter((_, i) => names[i] !== 'places').map((one) => one.crossings)));
});
