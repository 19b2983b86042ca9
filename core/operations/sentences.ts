import { didYouMean } from '../closest.ts';
import { sentences } from '../said.ts';
import { plural } from '../words.ts';

/** What is said in this room when something cannot be done, or was found. */
export const { say, refuse, find } = sentences('operations', {
  'advised-wire-gone': ({ source }: { source: string }) =>
    `A wire of “${source}” is not there any more: look at the advice again.`,
  'caption-adapted': ({ before, after, remark }: { before: string; after: string; remark: string }) =>
    `“${before}” is “${after}” now: ${remark}`,
  'caption-stays': ({ before, problem }: { before: string; problem: string }) => `“${before}” stays: ${problem}`,
  'folded-already': ({ folded }: { folded: boolean }) => (folded ? 'It is folded already.' : 'It is not folded.'),
  'frame-empty': ({ empty }: { empty: string }) => `“${empty}” is empty: there is nothing to fold.`,
  'frame-of-other-graph': ({ into }: { into: string }) => `“${into}” is not a frame of that graph.`,
  'frames-folded': () => 'Some frames are folded, and wires at them cannot become remote links. Unfold them first.',
  'gives-nothing': ({ node }: { node: string }) => `“${node}” gives nothing.`,
  'gives-nothing-to-take': ({ node }: { node: string }) => `“${node}” gives nothing that a node could take.`,
  'hangs-on-arranged': ({
    names,
    rest,
    hang,
    them,
  }: {
    names: readonly string[];
    rest: string;
    hang: string;
    them: string;
  }) =>
    `${names.join(', ')}${rest} ${hang} only on what is arranged. Tick “Include nodes that depend only on these” to arrange ${them} too.`,
  'has-beacon': ({ node, made }: { node: string; made: string }) =>
    `That output of “${node}” has the beacon “${made}” already.`,
  'input-taken': ({ port, node }: { port: string; node: string }) =>
    `The input ${port} of “${node}” has a wire already; an input takes one.`,
  'is-beacon': ({ node }: { node: string }) => `“${node}” is a beacon already.`,
  'is-tap': ({ node }: { node: string }) => `“${node}” is a tap: what it gives has its beacon already.`,
  'lay-on-one-another': ({ names }: { names: readonly string[] }) =>
    `${names.slice(0, 4).join(', ')}${names.length > 4 ? ` and ${names.length - 4} more` : ''} lay exactly on one another.`,
  locked: ({ node }: { node: string }) => `“${node}” is locked; it was skipped.`,
  'nothing-for-attributes': () => 'Nothing that is selected can have attributes.',
  'no-beacon': ({ id }: { id: string }) => `There is no beacon ${id} in this file.`,
  'no-colour': ({ wanted }: { wanted: string }) =>
    `“${wanted}” is not a colour: write it as #2f6f8f, or leave it empty.`,
  'no-compound-port': () => 'The selected nodes have no compound port.',
  'no-consumers': ({ node }: { node: string }) => `Nothing takes from “${node}”.`,
  'no-conversion': ({
    ways,
    problem,
    way,
    id,
  }: {
    ways: number;
    problem: string;
    way: string | undefined;
    id: readonly string[];
  }) =>
    ways === 0 ? `${problem} Nothing in the catalogue converts it.` : `There is no way “${way}”: ${id.join(', ')}.`,
  'no-end': () =>
    'This file has no end: no node of a kind that is one, and no output. So nothing can be said to be needed.',
  'no-frame': ({ id }: { id: string }) => `This file has no frame “${id}”.`,
  'no-frame-selected': () => 'Neither a frame nor a node inside one is selected.',
  'no-input-takes-it': ({
    taken,
    target,
    source,
    port,
  }: {
    taken: boolean;
    target: string;
    source: string;
    port: string | undefined;
  }) =>
    `No ${taken ? '' : 'open '}input of “${target}” takes what “${source}” gives${port === undefined ? '' : ` at “${port}”`}.`,
  'no-kind': ({ catalogue, kind }: { catalogue: string; kind: string }) =>
    `The catalogue “${catalogue}” has no kind “${kind}”.`,
  'kind-not-known': ({ name, count }: { name: string; count: number }) =>
    `The catalogue has no kind “${name}”; ${plural(count, 'node stays as it is', 'nodes stay as they are')}.`,
  'kind-untold': ({ count, by }: { count: number; by: string }) =>
    `${plural(count, 'imported node')} ${count === 1 ? 'says' : 'say'} nothing ${by === '' ? 'to go by' : `under “${by}”`} and ${count === 1 ? 'stays' : 'stay'} as ${count === 1 ? 'it is' : 'they are'}.`,
  'no-kind-attribute': () =>
    'No attribute here is called like one that names the kind. Type its name, or “caption” to go by what stands on the nodes.',
  'no-kind-named': ({ by }: { by: string }) => `None of these nodes has an attribute “${by}”.`,
  'no-node': ({ node }: { node: string }) => `The node ${node} is not in this file.`,
  'no-node-or-frame': ({ tiedTo }: { tiedTo: string }) => `This file has no node or frame “${tiedTo}”.`,
  'no-other-end': () =>
    'The selection has no other end: select a beacon, a tap, a standing feed, or a node that one supplies.',
  'no-output': ({ node, port }: { node: string; port: string }) => `“${node}” has no output ${port}.`,
  'no-output-for-beacon': ({ node }: { node: string }) => `“${node}” gives nothing, so that it cannot have a beacon.`,
  'no-output-to-reroute': ({ which }: { which: string }) =>
    `The selected nodes have no ${which === 'all' ? '' : `${which} `}output without a reroute point.`,
  'no-pair-fits': ({ replace }: { replace: boolean }) =>
    `No ${replace ? '' : 'open '}pair of ports of the selected nodes fits.`,
  'no-port': ({ host, id }: { host: string; id: string }) => `“${host}” has no port “${id}”.`,
  'no-port-fits': ({ own, port, node }: { own: string; port: string; node: string }) =>
    `“${own}” has no port that fits “${port}” of “${node}”.`,
  'no-region': () => 'No region was found: every node is in a frame, or too few hang together.',
  'no-reroute-point': () => 'There is no reroute point here.',
  'no-setting': ({ node, name }: { node: string; name: string }) =>
    `“${node}” has no setting “${name}”; it was skipped.`,
  'no-shared-kind': ({ name }: { name: string }) => `There is no shared kind “${name}”.`,
  'no-wire': ({ wire }: { wire: string }) => `The wire ${wire} is not in this file.`,
  'no-wire-to-link': () =>
    'There is no wire here that could become a link: select wires, or nodes whose outputs are wired.',
  'no-wire-to-parent': ({ parent }: { parent: string }) =>
    `No wire runs between “${parent}”, the last selected, and the others.`,
  'no-wires-to-others': () => 'The selected nodes have no wires to others.',
  'node-goes': ({ node, kind }: { node: string; kind: string }) => `“${node}” (${kind}) goes.`,
  'node-gone': ({ node }: { node: string }) => `The node ${node} is not in this file any more.`,
  'nodes-overlap': ({ count }: { count: number }) =>
    `${plural(count, 'pair')} of nodes overlap here. Unstack them first: what overlaps cannot be lined up.`,
  'note-tied-across-graphs': () => 'A note is tied to something of its own graph.',
  'nothing-imported': () => 'There is no imported node here: every node has its kind.',
  'nothing-in-frame': () => 'Nothing of the selection is in a frame.',
  'nothing-to-bypass': () =>
    'Ports of the graph, reroute points and remote links only carry data: there is nothing to bypass.',
  'nothing-to-carry': () => 'Nothing stands behind that output, so that there is nothing to carry.',
  'nothing-to-colour': () => 'Select nodes, frames or notes first.',
  'nothing-to-draw': ({ idle }: { idle: string | undefined }) =>
    idle !== undefined
      ? `No tap hears “${idle}”, so that there is no wire to draw.`
      : 'Select taps, beacons, or wires that start from a tap.',
  'nothing-to-merge': () => 'No two of these nodes compute the same: nothing was changed.',
  'nothing-to-name': ({ target }: { target: string }) =>
    target === 'title' ? 'Select frames first.' : 'Select nodes first.',
  'nothing-to-update': () => 'Nothing is behind: every shared kind here has that version.',
  'one-name-for-many': ({ requests }: { requests: number }) =>
    `One name does for one output; these are ${requests}: leave the name empty, and it is proposed for each.`,
  'ports-fit': () => 'These ports fit as they are: connect them.',
  'region-members-gone': ({ members, here, title }: { members: number; here: number; title: string }) =>
    `${members - here} of “${title}” are gone, or in a frame by now.`,
  'ring-of-frames': ({ ring }: { ring: string }) => `“${ring}” cannot become a member of what lies in it.`,
  'select-frame-or-node-inside': () => 'Select a frame first, or a node inside one.',
  'select-nested-graph': () => 'Select a nested graph, or one of its ports inside.',
  'select-node-and-wire': () => 'Select a node and the wire that it is to stand in.',
  'select-nodes-or-frames': () => 'Select nodes or frames first.',
  'select-note': () => 'Select a note first.',
  'select-one-frame': () => 'Select one frame first.',
  'select-one-nested-graph': () => 'Select one nested graph.',
  'select-one-node': () => 'Renaming wants one selected node.',
  'select-sources': () =>
    'Select the node that is taken from now, then, if not all of its consumers are meant, these, and last the node to take from.',
  'select-tap': () => 'Select a tap first.',
  'select-feed': () => 'Select a standing feed first.',
  'scope-not-around': ({ feed }: { feed: string }) =>
    `“${feed}” can supply only a frame or graph that it stands in: choose one around it.`,
  'select-wires': () => 'There is no wire here: select wires, or nodes that have some.',
  'set-exists': ({ name }: { name: string }) =>
    `There is a set “${name}” already: add to that one, or take another name.`,
  'setting-exists': ({ node, name }: { node: string; name: string }) => `“${node}” has a setting “${name}” already.`,
  'setting-in-use': ({ name, node }: { name: string; node: string }) =>
    `“${name}” is the present setting of “${node}”: choose another one first.`,
  'stays-without-wire': ({ node }: { node: string }) => `“${node}” has no wire to the others and stays.`,
  'supplies-nothing': ({ node, port }: { node: string; port: string | undefined }) =>
    `“${node}” gives nothing${port === undefined ? '' : ` at ${port}`}, so that it cannot supply anything.`,
  'tap-in-other-graph': ({ target }: { target: string }) =>
    `“${target}” is in another graph: a tap stands in the graph of what it feeds.`,
  'version-changes': ({ node, from, to }: { node: string; from: number; to: number }) =>
    `“${node}” goes from version ${from} to ${to}.`,
  'version-unreadable': ({ error }: { error: string }) => `What the version held cannot be read: ${error}`,
  'wire-gave-way': ({ node, where }: { node: string; where: string }) => `The wire from “${node}”${where} gave way.`,
  'wire-gone': () => 'One of the wires is not in this file any more.',
  'wire-in-other-graph': () => 'One of the wires is in another graph.',
  'other-graph': ({ item, frame }: { item: string; frame: string }) =>
    `“${item}” lies in another graph than “${frame}”: move it to that graph first.`,
  'query-unreadable': ({ problem }: { problem: string }) => problem,
  passes: ({ node, input, output }: { node: string; input: string | undefined; output: string }) =>
    `“${node}” passes ${input === undefined ? `nothing for “${output}”, which is open` : `“${input}” for “${output}”`}.`,
  'kind-without-parameter': ({
    kind,
    parameter,
    known,
  }: {
    kind: string;
    parameter: string;
    known: readonly string[];
  }) => `“${kind}” has no parameter “${parameter}”.${didYouMean(parameter, known)}`,
});
