import { caption, type Doc, nodePath } from '@basitax/core/document/doc';
import { titleOf } from '@basitax/core/document/geometry';
import type { Id } from '@basitax/core/document/ids';
import { jsonPatch } from '@basitax/core/formats/json-patch';
import { readTimes } from '@basitax/core/formats/times-csv';
import { dependenciesOf, leftoversOf, measuresOf, printsOf } from '@basitax/core/inspect/answers';
import { compareDocs } from '@basitax/core/inspect/compare/compare';
import { layers } from '@basitax/core/inspect/compare/layers';
import { cost } from '@basitax/core/inspect/cost';
import { scoring } from '@basitax/core/inspect/faults';
import { verdictWords } from '@basitax/core/inspect/fingerprint';
import { must } from '@basitax/core/must';
import { portOf } from '@basitax/core/wiring/types';
import type { Loaded, Outcome, Status } from '../command.ts';

const said = (lines: readonly string[], json: object, status: Status = 'fine'): Outcome => ({
  text: lines.join('\n'),
  json: json as Readonly<Record<string, unknown>>,
  status,
});
const row = (name: string, value: string | number): string => `${name.padEnd(14)} ${value}`;
const rounded = (value: number): number => Math.round(value * 10) / 10;

/** How a thing is addressed in what is printed. */
function addressOf(doc: Doc, id: Id): string {
  const node = doc.nodes.get(id);
  if (node) return nodePath(doc, node);
  const frame = doc.frames.get(id);
  return frame ? `frame ${titleOf(frame)}` : id;
}

/** An input by the path of its node and what it is called. */
const inputName = (doc: Doc, { node, port }: { node: Id; port: string }): string =>
  `${addressOf(doc, node)}.${portOf(doc.nodes.get(node), port, 'in')?.name ?? port}`;

/**
 * What some nodes depend on, what depends on them, and what would be hit; between two also the ways from one to the
 * other.
 */
export function sayDependencies({ doc, kinds }: Loaded, ids: readonly Id[]): Outcome {
  const answer = dependenciesOf(doc, kinds, ids);
  const { paths, ...found } = answer;
  const list = (title: string, side: typeof found.up): string[] => [
    row(title, `${side.nodes.length} nodes, ${side.depth} deep, over ${side.carriers.length} that carry`),
    ...side.nodes.map((one) => `  ${String(one.steps).padStart(4)}  ${addressOf(doc, one.id)}`),
    ...side.ifOn.map((one) => `  ${String(one.steps).padStart(4)}  ${addressOf(doc, one.id)} (if switched on)`),
  ];
  const names = (some: readonly Id[]): string =>
    some.length === 0 ? 'none' : some.map((id) => addressOf(doc, id)).join(', ');
  return said(
    [
      ...found.standing.flatMap(({ id, is }) => (is === 'used' ? [] : [row('stands', `${addressOf(doc, id)}: ${is}`)])),
      ...list('up', found.up),
      ...list('down', found.down),
      row('ends hit', names(found.ends)),
      ...(found.endsIfOn.length > 0 ? [row('if on: ends', names(found.endsIfOn))] : []),
      row('if gone: ends', names(found.gone.removed)),
      ...found.gone.starved.map(({ end, inputs, count }) =>
        row(
          'if gone: loses',
          `${addressOf(doc, end)}: ${inputs.map((one) => inputName(doc, one)).join(', ')}${count > inputs.length ? ` and ${count - inputs.length} more` : ''}`,
        ),
      ),
      row('if gone: other', names(found.gone.otherwise)),
      row('if gone: idle', names(found.gone.idle)),
      ...found.gone.opened.map((item) => row('if gone:', item.message)),
      ...(paths
        ? [
            row(paths.ifOn ? 'paths if on' : 'paths', paths.count ?? 'without end'),
            row('shortest', names(paths.shortest)),
            row('all pass', names(paths.passed)),
          ]
        : ids.length === 2
          ? [row('paths', 0)]
          : []),
    ],
    answer,
  );
}

/** What could go or was forgotten, with the operation that mends it. */
export function sayLeftovers({ doc, kinds }: Loaded): Outcome {
  const found = leftoversOf(doc, kinds);
  const lines = found.map(
    (item) =>
      `${item.severity.padEnd(8)}${item.rule.padEnd(19)}${addressOf(doc, item.place.at(-1) ?? '')}: ${item.message}${item.fix ? ` [${item.fix.operation}]` : ''}${item.choices ? ` [choose: ${item.choices.map(({ title }) => title).join(' / ')}]` : ''}`,
  );
  return said(
    [...lines, found.length === 0 ? 'Nothing is left over.' : `${found.length} found.`],
    { findings: found },
    found.length > 0 ? 'findings' : 'fine',
  );
}

/** Every difference, what is computed apart from words and layout. */
export function sayComparison(before: Loaded, after: Loaded): Outcome {
  const found = compareDocs(before.doc, after.doc, { before: before.kinds, after: after.kinds });
  const lines = layers.flatMap((layer) => {
    const some = found.changes.filter((change) => change.layer === layer);
    return some.length === 0
      ? []
      : [
          `${layer}: ${some.length}`,
          ...some.flatMap((change) => [
            `  ${change.type.padEnd(11)}${change.sentence}`,
            ...(change.consequences ?? []).map((one) => `    ${one.type.padEnd(9)}${one.sentence}`),
          ]),
        ];
  });
  return said(
    [
      ...lines,
      row('matched', `${found.matched.byId} by id, ${found.matched.byLikeness} by likeness`),
      row('fingerprint', verdictWords[found.fingerprint.verdict]),
    ],
    found,
    found.changes.length > 0 ? 'findings' : 'fine',
  );
}

/** The same as a JSON Patch, RFC 6902. */
export const sayPatch = (before: Doc, after: Doc): string => JSON.stringify(jsonPatch(before, after), null, 2);

/** What a file computes, as two hashes, and where wanted the hash of each node. */
export function sayFingerprint({ doc, kinds }: Loaded, withNodes: boolean): Outcome {
  const answer = printsOf(doc, kinds, withNodes);
  const { nodes = {}, ...print } = answer;
  return said(
    [
      ...Object.entries(print).map(([name, value]) => row(name, value)),
      ...Object.entries(nodes).map(([path, value]) => `${value}  ${path}`),
    ],
    answer,
  );
}

/** How hard it is to read: the measures, the score and what it is made of, the worst places. */
export function sayMeasures({ doc, kinds }: Loaded): Outcome {
  const answer = measuresOf(doc, kinds);
  const { score, readability: reports, ...measures } = answer;
  const parts = reports.flatMap((report) => {
    const name = doc.graphs.get(report.graph)?.name ?? report.graph;
    return [
      `${name}: ${rounded(report.score)} of 100`,
      ...report.parts.map(
        (part) =>
          `  ${scoring[part.type].title.padEnd(24)} ${String(rounded(part.points)).padStart(5)} of ${part.of}   ${part.count} (${part.rate.toFixed(2)} per ${scoring[part.type].per})`,
      ),
      ...report.places.map(
        (place, i) =>
          `  worst ${i + 1}: −${rounded(place.lost)} at ${place.rect.x}, ${place.rect.y}: ${place.faults.map((fault) => `${rounded(fault.count)} ${fault.type}`).join(', ')}`,
      ),
    ];
  });
  return said(
    [...Object.entries(measures).map(([name, value]) => row(name, value)), row('score', rounded(score)), ...parts],
    answer,
  );
}

/** What nodes cost, from a table of times. */
export function sayCost({ doc, kinds }: Loaded, csv: string): Outcome {
  const { times, findings } = readTimes(doc, csv);
  const found = cost(doc, kinds, times);
  const share = (value: number): string => `${(100 * value).toFixed(1)} %`.padStart(8);
  const list = (
    title: string,
    rows: readonly { id: Id; ms: number; share: number }[],
    name: (id: Id) => string,
  ): string[] =>
    rows.length === 0
      ? []
      : [
          `${title}:`,
          ...rows.map((one) => `  ${String(rounded(one.ms)).padStart(9)} ms ${share(one.share)}  ${name(one.id)}`),
        ];
  const path = found.critical.path.map((id) => caption(must(doc.nodes.get(id)))).join(' → ');
  return {
    ...said(
      [
        row('total', `${rounded(found.total)} ms`),
        row('critical path', `${rounded(found.critical.ms)} ms: ${path || 'none'}`),
        row('no end needs', `${rounded(found.waste.ms)} ms in ${found.waste.nodes.length} nodes`),
        row('switched off', `${rounded(found.off.ms)} ms in ${found.off.nodes.length} nodes, if they were on`),
        row('not measured', found.unmeasured.length),
        ...(found.ends.length === 0 ? [] : ['ends, with what others need too and how long one waits:']),
        ...found.ends.map(
          (end) =>
            `  ${String(rounded(end.ms)).padStart(9)} ms ${share(end.share)}  ${addressOf(doc, end.id)}: ${rounded(end.shared)} ms shared, ${rounded(end.critical.ms)} ms waited`,
        ),
        ...list('nodes', found.nodes, (id) => addressOf(doc, id)),
        ...list('frames', found.frames, (id) => addressOf(doc, id)),
        ...list('nested graphs', found.nested, (id) => addressOf(doc, id)),
      ],
      found,
    ),
    findings,
  };
}
