import type { Location, Log, ReportingDescriptor, Result } from 'sarif';
import { caption, type Doc, nodePath } from '../document/doc.ts';
import { titleOf } from '../document/geometry.ts';
import type { Finding, Severity } from '../finding.ts';
import type { Asked } from '../rules/rules.ts';

/** A file that was checked: its address as it is to be shown, its text as it stands on disk, and what was found. */
export interface Checked {
  readonly file: string;
  readonly text: string;
  readonly doc: Doc;
  readonly findings: readonly Finding[];
}

const levels: Readonly<Record<Severity, 'error' | 'warning' | 'note'>> = {
  error: 'error',
  warning: 'warning',
  info: 'note',
};

/**
 * What house rules found, as SARIF 2.1.0 (OASIS, 2020), so that other tools can show it beside the lines of the files.
 * O(findings + length of the texts).
 */
export function sarifLog(checked: readonly Checked[], asked: readonly Asked[], version: string): Log {
  const number = new Map(asked.map(({ rule }, i) => [rule.id, i]));
  return {
    $schema: 'https://docs.oasis-open.org/sarif/sarif/v2.1.0/errata01/os/schemas/sarif-schema-2.1.0.json',
    version: '2.1.0',
    runs: [
      {
        tool: { driver: { name: 'Basitax', semanticVersion: version, rules: asked.map(descriptorOf) } },
        columnKind: 'utf16CodeUnits',
        artifacts: checked.map(({ file }) => ({ location: { uri: uriOf(file) } })),
        results: checked.flatMap((one, artifact) => {
          const lines = linesOf(one.text);
          return one.findings.map((item): Result => {
            const index = number.get(item.rule);
            return {
              ruleId: item.rule,
              ...(index !== undefined && { ruleIndex: index }),
              level: levels[item.severity],
              message: { text: item.message },
              locations: [locationOf(one, item, artifact, lines)],
            };
          });
        }),
      },
    ],
  };
}

function descriptorOf({ rule, severity }: Asked): ReportingDescriptor {
  return {
    id: rule.id,
    shortDescription: { text: `${rule.title}.` },
    fullDescription: { text: rule.why },
    help: { text: rule.instead },
    defaultConfiguration: { level: levels[severity ?? rule.severity] },
    properties: { tags: [rule.subject] },
  };
}

function locationOf(
  { file, doc }: Checked,
  item: Finding,
  artifact: number,
  lines: ReadonlyMap<string, number>,
): Location {
  const id = item.place.at(-1);
  const startLine = id === undefined ? undefined : lines.get(id);
  const [node, frame] = [doc.nodes.get(id ?? ''), doc.frames.get(id ?? '')];
  return {
    physicalLocation: {
      artifactLocation: { uri: uriOf(file), index: artifact },
      ...(startLine !== undefined && { region: { startLine } }),
    },
    ...(node && {
      logicalLocations: [{ name: caption(node), fullyQualifiedName: nodePath(doc, node), kind: 'element' }],
    }),
    ...(frame && { logicalLocations: [{ name: titleOf(frame), fullyQualifiedName: frame.id, kind: 'element' }] }),
  };
}

/** The line of each record: our own files have one record a line, which begins with its id. */
function linesOf(text: string): ReadonlyMap<string, number> {
  const found = new Map<string, number>();
  text.split('\n').forEach((line, i) => {
    const id = /^\s*\{"id":("(?:[^"\\]|\\.)*")/.exec(line)?.[1];
    if (id !== undefined) found.set(JSON.parse(id) as string, i + 1);
  });
  return found;
}

/** A path as a relative reference by RFC 3986. */
const uriOf = (file: string): string =>
  file
    .replaceAll('\\', '/')
    .split('/')
    .map((part) => encodeURIComponent(part))
    .join('/');
