import { fingerprint } from '@basitax/core/inspect/fingerprint';
import { measureGraph } from '@basitax/core/inspect/measure';
import { framesOnFrames } from '@basitax/core/inspect/page-faults';
import { act } from '@basitax/core/tests/acts';
import { describe, expect, it } from 'vitest';
import { kinds } from './builder.ts';
import { demoFiles } from './files.ts';

describe('arranging a file of the demo', () => {
  // the largest takes a minute with all that is asked here; the benchmark `page` does the same with it
  it.each(demoFiles.filter(({ slug }) => slug !== 'reef-night').map(({ slug }) => slug))(
    '%s: lays nothing on anything, keeps the function, and moves nothing the second time',
    async (slug) => {
      const doc = demoFiles.find((file) => file.slug === slug)!.build();
      const { doc: after } = await act('arrange', doc, [], {}, kinds);
      expect(measureGraph(after, kinds, 'root')).toMatchObject({ overlaps: 0, throughNodes: 0 });
      expect(framesOnFrames(after, kinds, 'root')).toEqual([]);
      expect(fingerprint(after, kinds)).toEqual(fingerprint(doc, kinds));
      expect((await act('arrange', after, [], {}, kinds)).edit.steps).toEqual([]);
    },
  );
});
