import fc from 'fast-check';
import { expect, it } from 'vitest';
import { tokenOf } from './graphml-keys.ts';
import { OuterIds } from './outer-ids.ts';

const record = fc.record({
  id: fc.string({ minLength: 1, maxLength: 4 }),
  foreignId: fc.option(fc.constantFrom('a', 'a b', '', 'ä', 'a_2'), { nil: undefined }),
});

it('ids in a file are the ones that things came with, each once, and the same whenever they are asked', () => {
  fc.assert(
    fc.property(fc.uniqueArray(record, { selector: (one) => one.id, maxLength: 12 }), fc.boolean(), (all, asTokens) => {
      const ids = asTokens ? new OuterIds(tokenOf) : new OuterIds();
      const given = all.map((one) => ids.of(one));
      expect(new Set(given).size).toBe(all.length);
      expect(all.map((one) => ids.of(one))).toEqual(given);
      const first = all.findIndex((one) => one.foreignId === 'a');
      const isFree = !all.slice(0, first).some((one) => (one.foreignId || one.id) === 'a');
      if (first >= 0 && isFree) expect(given[first]).toBe('a');
      // NMTOKEN of XML 1.0, 2.3, for the letters that stand here
      if (asTokens) for (const id of given) expect(tokenOf(id)).toBe(id);
    }),
  );
});
