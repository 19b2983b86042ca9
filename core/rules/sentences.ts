import { sentences } from '../said.ts';
import { listed, plural } from '../words.ts';

/** What is said in this room when something cannot be done, or was found. */
export const { say, refuse, find } = sentences('rules', {
  'no-rule': ({ id, rules }: { id: string; rules: readonly string[] }) =>
    `There is no house rule “${id}”. There are: ${rules.join(', ')}.`,
  'nothing-to-set': ({ id }: { id: string }) => `The house rule “${id}” has nothing that can be set.`,
  'option-does-not-fit': ({ id, option, problem }: { id: string; option: string; problem: string }) =>
    `The house rule “${id}”: ${option || 'its options'}: ${problem}.`,
  'query-unreadable': ({ id, where, problem }: { id: string; where: string; problem: string }) =>
    `The house rule “${id}”: the query “${where}” cannot be read: ${problem}`,
  'untitled-frame': () => 'A frame has no title.',
  'stranger-in-frame': ({ node, frame }: { node: string; frame: string }) =>
    `“${node}” lies in the frame “${frame}” and is not a member of it.`,
  'frame-overlap': ({ frame, frames }: { frame: string; frames: readonly string[] }) =>
    `The frame “${frame}” lies on ${listed(frames)}.`,
  frameless: ({ loose, nodes, share, limit }: { loose: number; nodes: number; share: number; limit: number }) =>
    `${loose} of ${nodes} nodes stand in no frame: ${share} %, more than ${limit} %.`,
  'crowded-frame': ({ frame, count, limit }: { frame: string; count: number; limit: number }) =>
    `The frame “${frame}” holds ${count} nodes, more than ${limit}.`,
  'silent-frame': ({ frame, count }: { frame: string; count: number }) =>
    `The frame “${frame}” holds ${plural(count, 'node')} and has no note.`,
  'off-palette': ({ item, color, colors }: { item: string; color: string; colors: number }) =>
    `${item} has the colour ${color}, which is none of the house’s ${colors}.`,
  'pale-colour': ({ item, color, what }: { item: string; color: string | undefined; what: string }) =>
    `${item} has the colour ${color}, which hardly stands out ${what}.`,
  'backward-wires': ({ back, wires, share, limit }: { back: number; wires: number; share: number; limit: number }) =>
    `${back} of ${wires} wires run against the flow: ${share} %, more than ${limit} %.`,
  'long-wires': ({ wires, from, windows, limit }: { wires: number; from: string; windows: number; limit: number }) =>
    `${wires === 1 ? 'A wire' : `${wires} wires`} from “${from}” ${wires === 1 ? 'reaches' : 'reach'} over ${windows} windows, more than ${limit}.`,
  'many-crossings': ({ count, wires, each, limit }: { count: number; wires: number; each: number; limit: number }) =>
    `${count} crossings of ${plural(wires, 'wire')}: ${each.toFixed(2)} for each, more than ${limit}.`,
  'switched-off': ({ from, to }: { from: string; to: string }) => `The wire from “${from}” to “${to}” is switched off.`,
  'reroute-chain': ({ chain, limit }: { chain: number; limit: number }) =>
    `${chain} reroute points follow one another, more than ${limit}.`,
  'large-graph': ({ nodes, limit }: { nodes: number; limit: number }) =>
    `This graph has ${nodes} nodes, more than ${limit}.`,
  'deep-nesting': ({ node, depth, limit }: { node: string; depth: number; limit: number }) =>
    `“${node}” lies ${depth} graphs deep, more than ${limit}.`,
  'name-style': ({ node, style }: { node: string; style: string }) => `The name “${node}” is not written as ${style}.`,
  'name-prefix': ({ node, prefixes }: { node: string; prefixes: readonly string[] }) =>
    `The name “${node}” begins with none of ${listed(prefixes)}.`,
  'cut-caption': ({ title, whole }: { title: string; whole: string }) =>
    `“${title}” is cut off: the whole is “${whole.slice(0, 120)}”.`,
  'doubled-label': ({ nodes, label, name }: { nodes: number; label: string; name: readonly string[] }) =>
    `${plural(nodes, 'node')} are labelled “${label.slice(0, 120)}”: ${listed(name)}.`,
  'near-link': ({ beacon }: { beacon: string }) => `The beacon “${beacon}” has one tap, which lies in the same window.`,
  'like-beacons': ({ names }: { names: readonly string[] }) =>
    `The beacons ${listed(names)} differ in capitals and underscores alone.`,
  'absolute-path': ({ node, parameter, path }: { node: string; parameter: string; path: string }) =>
    `“${node}” has in ${parameter} a path of one machine: “${path.slice(0, 200)}”.`,
  'unknown-kind': ({ node, kind }: { node: string; kind: string }) =>
    `“${node}” is of the kind “${kind}”, which the catalogue does not know.`,
  'bad-value': ({ node, problem }: { node: string; problem: string }) => `“${node}”: ${problem}`,
  'old-shared': ({
    node,
    version,
    shared,
    newest,
  }: {
    node: string;
    version: number;
    shared: string;
    newest: number;
  }) => `“${node}” is version ${version} of the shared kind “${shared}”; there is ${newest}.`,
  'default-name': ({ node, kind, counts }: { node: string; kind: string; counts: string }) =>
    `“${node}” says no more than its kind, ${kind}.${counts}`,
  'empty-frame': ({ frame }: { frame: string }) => `The frame “${frame}” holds nothing.`,
  'missing-asset': ({ node, path, where }: { node: string; path: string; where: string }) =>
    `“${node}” reads “${path}”, which is not in the asset store.${where}`,
  overlap: ({ nodes }: { nodes: readonly string[] }) => `${listed(nodes)} lie on one another.`,
  'stacked-duplicate': ({ nodes }: { nodes: readonly string[] }) =>
    `${listed(nodes)} lie on one another and compute the same.`,
  'equal-parts': ({ nodes, least }: { nodes: readonly string[]; least: number }) =>
    `${listed(nodes)} compute the same, with ${plural(least, 'node')} each that feed them.`,
  'wire-through-node': ({ from, to, nodes }: { from: string; to: string; nodes: readonly string[] }) =>
    `The wire from “${from}” to “${to}” runs through ${listed(nodes)}.`,
  'lost-tap': ({ tap, beacon }: { tap: string; beacon: string | undefined }) =>
    `The tap “${tap}” listens for the beacon “${beacon ?? ''}”, which is not there.`,
  'lost-beacon': ({ beacon, heard }: { beacon: string; heard: string }) =>
    `The beacon “${beacon}” takes nothing, ${heard}.`,
  'empty-feed': ({ feed }: { feed: string }) => `The standing feed “${feed}” takes nothing, so it supplies nothing.`,
  'hidden-feed': ({ feed, by }: { feed: string; by: string[] }) =>
    `The standing feed “${feed}” supplies nothing: all inputs that it could supply take from ${listed(by)}, which ${by.length === 1 ? 'is' : 'are'} nearer.`,
  'needless-feed': ({ feed, scope }: { feed: string; scope: string }) =>
    `The standing feed “${feed}” supplies nothing: no input in “${scope}” that is open takes its type.`,
  'shadowed-feed': ({ feed, supplied, count, by }: { feed: string; supplied: number; count: number; by: string[] }) =>
    `The standing feed “${feed}” supplies ${plural(supplied, 'input')}; ${plural(count, 'other')} in its place ${count === 1 ? 'takes' : 'take'} from ${listed(by)}, which ${by.length === 1 ? 'is' : 'are'} nearer.`,
  'lost-expression': ({ parameter, node }: { parameter: string; node: string }) =>
    `The expression in “${parameter}” of “${node}” refers to a node that is gone.`,
  unused: ({ node, kind }: { node: string; kind: string }) => `Nothing takes from “${node}” (${kind}).`,
  unreachable: ({ node, kind }: { node: string; kind: string }) => `“${node}” (${kind}) reaches no end of the file.`,
  cycle: ({ nodes, first, caption }: { nodes: number; first: string; caption: readonly string[] }) =>
    nodes === 1 ? `“${first}” reads itself.` : `${listed(caption)} read one another in a cycle.`,
  'low-readability': ({ score, least, faults }: { score: number; least: number; faults: readonly string[] }) =>
    `Readability is ${score.toFixed(0)}, less than ${least}; most is lost by ${listed(faults)}.`,
  'bypassed-since': ({ node, revision, days }: { node: string; revision: number; days: string }) =>
    `“${node}” is bypassed since revision ${revision}, ${days}.`,
  'bypassed-for-unknown': ({ node }: { node: string }) =>
    `“${node}” is bypassed; since when, a file alone does not say.`,
});
