import { sentences } from '../said.ts';

/** What is said in this room when something cannot be done, or was found. */
export const { say, refuse, find } = sentences('structure', {
  'beacon-not-here': ({ tap, name }: { tap: string; name: string }) =>
    `Tap “${tap}” listens for the beacon “${name}”, which is not here.`,
  'clipboard-empty': () => 'The clipboard holds no nodes: copy some in Basitax first.',
  'clipboard-unreadable': ({ error }: { error: string }) => `The clipboard holds no nodes: ${error}`,
  'holds-no-graph': ({ host }: { host: string }) => `“${host}” holds no graph: replace its kind instead.`,
  'in-graph-already': ({ node }: { node: string }) => `“${node}” is in that graph already.`,
  'into-itself': ({ node }: { node: string }) => `“${node}” cannot be moved into itself.`,
  'leaves-frame': ({ name, frame }: { name: string; frame: string }) => `“${name}” leaves the frame “${frame}”.`,
  locked: ({ node }: { node: string }) => `“${node}” is locked.`,
  'no-graph': ({ target }: { target: string }) => `This file has no graph “${target}”.`,
  'parameter-missing': ({ node, kind, parameter }: { node: string; kind: string; parameter: string }) =>
    `“${node}” (${kind}) has no parameter ${parameter}.`,
  'no-set': ({ wanted }: { wanted: string }) => `This file has no set “${wanted}”.`,
  'no-shared-kind': ({ node }: { node: string }) => `“${node}” is of no shared kind.`,
  'nothing-to-copy': () => 'Nothing is selected, so there is nothing to copy.',
  'nothing-to-publish': ({ host }: { host: string }) => `“${host}” holds no graph that could be published.`,
  'parameter-opaque': ({ node, what, parameter }: { node: string; what: string; parameter: string }) =>
    `“${node}” holds ${what} in ${parameter}.`,
  'port-cannot-move': ({ node }: { node: string }) => `“${node}” is a port of its graph and stays with it.`,
  'port-stays': ({ port }: { port: string }) =>
    `“${port}” is a port of its graph and stays with it: leave it out of the selection.`,
  'port-went': ({ boundary, host }: { boundary: string; host: string }) =>
    `The port “${boundary}” of “${host}” went, and a wire with it.`,
  renamed: ({ node, name }: { node: string; name: string }) =>
    `“${node}” is taken there; the node is called “${name}” now.`,
  'select-nodes-first': () => 'Select nodes first.',
  'tap-heard-by-name': ({ tap, name, graph }: { tap: string; name: string; graph: string }) =>
    `Tap “${tap}” hears “${name}” here by its name, in “${graph}”.`,
  'tap-lost-beacon': ({ tap, beacon, what }: { tap: string; beacon: string; what: string }) =>
    `Tap “${tap}” listened for “${beacon}” and ${what}.`,
  'unknown-pattern-word': ({ unknown, patternWords }: { unknown: string; patternWords: readonly string[] }) =>
    `The pattern has {${unknown}}, which stands for nothing: there are ${patternWords.map((word) => `{${word}}`).join(', ')}.`,
  'wire-not-kept': ({ out, port, node }: { out: string | undefined; port: string; node: string }) =>
    `A wire at “${out ?? port}” of “${node}” could not be kept: there is no such port.`,
  'wire-not-pasted': ({ port, target, why }: { port: string; target: string; why: string }) =>
    `The wire into “${port}” of “${target}” could not be brought along: ${why}`,
  'holds-nothing': ({ host }: { host: string }) => `“${host}” holds no graph.`,
  'host-bypassed': ({ host }: { host: string }) =>
    `“${host}” is bypassed: switch it on first, since what lies in it would begin to count.`,
  'ports-opened': ({ opened }: { opened: string }) =>
    `Ports of “${opened}” are open into components: close them first.`,
  'value-refused': ({ node, problem }: { node: string; problem: string }) => `${node}: ${problem}`,
  'bad-regular-expression': ({ problem }: { problem: string }) => `The regular expression cannot be used: ${problem}.`,
  skipped: ({ why }: { why: string }) => `${why.slice(0, -1)}; it was skipped.`,
  'tap-listens-outside': ({ tap, beacon }: { tap: string; beacon: string | undefined }) =>
    `The tap “${tap}” listens to ${beacon === undefined ? 'nothing' : `“${beacon}”, which lies outside`}: lead it in through a port.`,
  'feed-outside': ({ port, node, feed }: { port: string; node: string; feed: string }) =>
    `“${port}” of “${node}” is supplied by the feed “${feed}” outside: lead it in through a port.`,
  'expression-outside': ({ node }: { node: string }) => `An expression of “${node}” refers to something outside.`,
  'tap-outside': ({ tap, beacon }: { tap: string; beacon: string }) =>
    `The tap “${tap}” outside listens to “${beacon}” inside: lead it out through a port.`,
});
