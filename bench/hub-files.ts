import type { Doc } from '@basitax/core/document/doc';
import { apply } from '@basitax/core/edit/step';
import { createContext } from '@basitax/core/operation';
import { operate } from '@basitax/core/operations';
import { modulesDoc } from '@basitax/core/tests/modules';
import { kinds } from '@basitax/demo/builder';
import { demoFiles } from '@basitax/demo/files';

export { kinds };

const withHubs = ['tide-cues', 'plankton-shoal', 'kelp-growth', 'reef-night', 'water-shading'];

/**
 * Files with hubs: those of the demo, and seeds 1 to 8 of the generator, as they come. Only those whose name holds
 * `only`, where it is given.
 */
export function filesWithHubs(only?: string): [string, Doc][] {
  const files: [string, Doc][] = [
    ...withHubs.map((slug): [string, Doc] => [slug, demoFiles.find((file) => file.slug === slug)!.build()]),
    ...[1, 2, 3, 4, 5, 6, 7, 8].map((seed): [string, Doc] => [`repeated parts, seed ${seed}`, modulesDoc(seed)]),
  ];
  return files.filter(([name]) => only === undefined || name.includes(only));
}

/** A whole graph arranged. */
export const arranged = (doc: Doc, options: object): Doc =>
  apply(doc, operate('arrange', createContext(kinds, 1), doc, { graph: 'root', items: [] }, options).edit);
