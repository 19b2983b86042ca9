import type { Doc } from '@basitax/core/document/doc';
import { apply } from '@basitax/core/edit/step';
import { compareFingerprints, fingerprint } from '@basitax/core/inspect/fingerprint';
import { measureGraph } from '@basitax/core/inspect/measure';
import { createContext } from '@basitax/core/operation';
import { runOperation } from '@basitax/core/operations';
import { advise } from '@basitax/core/remote/advice';
import { routeWires } from '@basitax/core/route/route';
import { messyDoc } from '@basitax/core/tests/messy';
import { kinds } from '@basitax/demo/builder';
import { demoFiles } from '@basitax/demo/files';

interface Row {
  readonly file: string;
  readonly nodes: number;
  readonly wires: number;
  /**
   * Making the advice, in milliseconds: the median of three; and over the time of routing the same graph once, which is
   * the reference.
   */
  readonly ms: number;
  readonly ofRouting: string;
  readonly outputs: number;
  /** Wires that are turned, in per cent of all. */
  readonly turned: string;
  readonly crossings: string;
  readonly left: string;
  readonly length: string;
  readonly windows: string;
  readonly function: string;
}

/** The messiest demo files by crossings, and five generated ones: seeds 1 to 5, as they come. */
function files(): [string, Doc][] {
  const demo = ['reef-night', 'kelp-growth', 'plankton-shoal', 'water-shading'].map((slug): [string, Doc] => [
    slug,
    demoFiles.find((file) => file.slug === slug)!.build(),
  ]);
  return [
    ...demo,
    ...[1, 2, 3, 4, 5].map((seed): [string, Doc] => [`generated, seed ${seed}`, messyDoc(seed, seed * 600)]),
  ];
}

const timed = <T>(work: () => T): [T, number] => {
  const started = performance.now();
  const result = work();
  return [result, performance.now() - started];
};

/** The advice, applied: how long it takes to make, and what it does to the crossings of the graph as it is routed. */
export async function links(): Promise<Row[]> {
  const rows: Row[] = [];
  for (const [file, doc] of files()) {
    const context = createContext(kinds, 1);
    const runs = [1, 2, 3].map(() => timed(() => advise(context, doc, 'root', { share: 0.15 })));
    const [advice] = runs[0]!;
    const ms = runs.map(([, time]) => time).sort((a, b) => a - b)[1]!;
    const [, routing] = timed(() => routeWires(doc, kinds, 'root'));
    const { edit } = await runOperation('link-advised', context, doc, { graph: 'root', items: [] }, { share: 0.15 });
    const after = apply(doc, edit);
    const [was, now] = [measureGraph(doc, kinds, 'root'), measureGraph(after, kinds, 'root')];
    const advised = advice.candidates.filter((one) => one.isAdvised);
    const turned = advised.reduce((sum, one) => sum + one.wires.length, 0);
    rows.push({
      file,
      nodes: was.nodes,
      wires: advice.wires,
      ms: Math.round(ms),
      ofRouting: (ms / routing).toFixed(2),
      outputs: advised.length,
      turned: `${((100 * turned) / advice.wires).toFixed(1)} %`,
      crossings: `${was.crossings} → ${now.crossings}`,
      left: `${((100 * now.crossings) / was.crossings).toFixed(0)} %`,
      length: `${was.length} → ${now.length}`,
      windows: `${was.windows} → ${now.windows}`,
      function: compareFingerprints(fingerprint(doc, kinds), fingerprint(after, kinds)),
    });
  }
  return rows;
}
