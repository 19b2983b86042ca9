import { describe, expect, it } from 'vitest';
import { indexOf } from '../document/doc.ts';
import { ref } from '../tests/acts.ts';
import { testKinds } from '../tests/arbitrary.ts';
import { scopeCases } from '../tests/scope-cases.ts';
import { beaconOf, tapsOf } from '../wiring/carriers.ts';
import { effectiveWiring } from '../wiring/effective.ts';
import { endState } from './ends.ts';

describe('which beacon a tap hears', () => {
  it.each(scopeCases.heard.map((one) => [one.title, one] as const))('%s', (_title, { doc, hears, findings = [] }) => {
    const wiring = effectiveWiring(doc, testKinds);
    for (const [id, beacon] of Object.entries(hears!)) {
      const tap = doc.nodes.get(id)!;
      expect([id, beaconOf(doc, tap)?.id]).toEqual([id, beacon]);
      expect(endState(doc, wiring, tap)).toBe(beacon === undefined ? 'lost' : 'fed');
      if (beacon !== undefined) expect(tapsOf(doc, beacon).map((node) => node.id)).toContain(id);
    }
    for (const beacon of indexOf(doc).nodesOfKind('std.beacon'))
      expect(endState(doc, wiring, beacon)).toBe(Object.values(hears!).includes(beacon.id) ? 'heard' : 'unheard');
    expect(wiring.findings.map((item) => item.rule)).toEqual(findings);
  });
});

describe('what a standing feed supplies', () => {
  it.each(scopeCases.fed.map((one) => [one.title, one] as const))('%s', (_title, { doc, supplies, findings = [] }) => {
    const wiring = effectiveWiring(doc, testKinds);
    for (const [input, feed] of Object.entries(supplies!)) {
      const at = ref(input);
      expect([input, wiring.feedOf(at.node, at.port)]).toEqual([input, feed]);
      if (feed === undefined) continue;
      // what comes there is what the feed takes
      const { node, port } = wiring.source(feed, 'in')!;
      expect(wiring.source(at.node, at.port)).toMatchObject({ node, port, feed });
      expect(wiring.suppliedBy(feed)).toContainEqual(at);
    }
    expect(wiring.findings.map((item) => item.rule)).toEqual(findings);
  });
});
