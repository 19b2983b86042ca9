import type { KindSpec, PortSpec } from './catalogue.ts';

/** Kinds that every catalogue has. They carry data about and compute nothing. */
export const builtin = {
  reroute: 'std.reroute',
  beacon: 'std.beacon',
  tap: 'std.tap',
  feed: 'std.feed',
  input: 'std.input',
  output: 'std.output',
  nested: 'std.nested',
  /** Stands for a folded frame in what is drawn; no file has it. */
  fold: 'std.fold',
} as const;

/** The kind of nodes of other programs, of which no catalogue knows. */
export const foreignKind = 'foreign.node';

const port = (id: string, direction: 'in' | 'out'): PortSpec => ({
  id,
  name: id,
  type: 'any',
  direction,
  many: false,
  main: true,
  feedable: false,
});

const kind = (
  id: string,
  title: string,
  code: string,
  ports: PortSpec[],
  pass: Record<string, string> = {},
): KindSpec => ({
  id,
  title,
  code,
  category: 'std',
  ports,
  parameters: [],
  pass,
  end: false,
  reads: [],
  nameMatters: false,
});

export const builtinKinds: readonly KindSpec[] = [
  kind(builtin.reroute, 'Reroute point', 'RP', [port('in', 'in'), port('out', 'out')], { out: 'in' }),
  kind(builtin.beacon, 'Beacon', 'BC', [port('in', 'in'), port('out', 'out')], { out: 'in' }),
  kind(builtin.tap, 'Tap', 'TP', [port('out', 'out')]),
  {
    ...kind(builtin.feed, 'Standing feed', 'SF', [port('in', 'in')]),
    parameters: [{ id: 'types', title: 'Types', type: 'text', default: '', main: true, cosmetic: false }],
  },
  kind(builtin.input, 'Graph input', 'GI', [port('out', 'out')]),
  kind(builtin.output, 'Graph output', 'GO', [port('in', 'in')]),
  kind(builtin.nested, 'Nested graph', 'NG', []),
  kind(builtin.fold, 'Folded frame', 'FF', []),
];

/** True for the kinds whose nodes carry data in or out of their graph. */
export function isBoundary(kind: string): boolean {
  return kind === builtin.input || kind === builtin.output;
}
