import { sentences } from '../said.ts';
import { listed, plural } from '../words.ts';

/** What is said in this room when something cannot be done, or was found. */
export const { say, refuse, find } = sentences('wiring', {
  'feed-kept': (p: { feed: string; scope: string; place: string; all: number; outside: readonly string[] }) =>
    p.outside.length === 0
      ? `“${p.feed}” stands in “${p.place}” and still supplies “${p.scope}”: ${plural(p.all, 'input')}, all of them in “${p.place}”.`
      : `“${p.feed}” stands in “${p.place}” and still supplies “${p.scope}”: ${plural(p.all, 'input')}, ${p.outside.length} of them outside “${p.place}”, at ${listed(p.outside)}.`,
  'expression-closes-loop': ({ node, read }: { node: string; read: string }) =>
    `The expression would close a loop: “${read}” depends on “${node}”, and loops are not allowed here.`,
  'value-kept': ({ spec, node, old }: Record<'spec' | 'node' | 'old', string>) =>
    `“${node}” keeps its own ${spec}, ${old}, and takes nothing from the new node.`,
  'copy-off': ({ feed, other, scope }: Record<'feed' | 'other' | 'scope', string>) =>
    `“${feed}” is bypassed: beside “${other}” in “${scope}” neither would supply anything.`,
  'supply-wired': ({ wired }: { wired: string[] }) =>
    `${plural(wired.length, 'input')} that a feed supplied ${wired.length === 1 ? 'is' : 'are'} wired now: ${listed(wired)}.`,
  'add-does-not-fit': ({ way, what }: { way: string; what: boolean }) =>
    `${way}${what ? ' It can stand alongside.' : ''}`,
  'beacon-not-there': ({ tap, name }: { tap: string; name: string }) =>
    `Tap “${tap}” listens for the beacon “${name}”, which is not there.`,
  'expression-lost': ({ node, parameter, of }: { node: string; parameter: string; of: string }) =>
    `An expression of “${node}” reads ${parameter} of “${of}”, which it has no more.`,
  'feed-loop': ({ names }: { names: string }) =>
    `${names} supply what each other’s sources take, which is a loop: draw one of these wires, or move a feed.`,
  'feeds-clash': ({ names, type }: { names: string; type: string }) =>
    `${names} both supply ${type} in the same scope, so neither does.`,
  'heard-by-name': ({ tap, name, heard, called }: { tap: string; name: string; heard: string; called: string }) =>
    `Tap “${tap}” hears “${name}” by name: the nearest, in ${heard}; there is one in ${called} too.`,
  'host-bypassed': ({ host }: { host: string }) =>
    `“${host}” is bypassed, so that no wire can be carried through it: switch it on first.`,
  'is-expression': ({ spec, first }: { spec: string; first: string }) =>
    `“${spec}” of “${first}” is an expression already.`,
  locked: ({ node }: { node: string }) => `“${node}” is locked; it was skipped.`,
  loop: ({ names, rest }: { names: readonly string[]; rest: string }) =>
    `${names.join(', ')}${rest} lie on a loop, which the catalogue forbids.`,
  'loop-of-carriers': ({ node }: { node: string }) =>
    `“${node}” lies on a loop in which nothing computes; what it gives is open.`,
  'nearer-beacon': ({ tap, name, heard, called }: { tap: string; name: string; heard: string; called: string }) =>
    `Tap “${tap}” keeps to “${name}” in ${heard}, though there is a nearer one of that name in ${called}.`,
  'no-input': ({ node, id }: { node: string; id: string }) => `“${node}” has no input ${id}.`,
  'no-kind-for-value': ({ catalogue, spec }: { catalogue: string; spec: string }) =>
    `The catalogue “${catalogue}” has no kind that only gives a value such as “${spec}”.`,
  'no-output': ({ source, port }: { source: string; port: string }) => `“${source}” has no output ${port}.`,
  'no-parameter': ({ first, parameter }: { first: string; parameter: string }) =>
    `“${first}” has no parameter ${parameter}.`,
  'not-shared': ({ node, parameter }: { node: string; parameter: string }) =>
    `“${node}” has no parameter ${parameter} of this type, or is in another graph; it was skipped.`,
  'parameter-kept': ({ spec, node, match }: { spec: string; node: string; match: string }) =>
    `“${spec}” of “${node}” is its “${match}” now.`,
  'source-in-other-graph': ({ source }: { source: string }) => `“${source}” is not in this graph.`,
  'stays-open': ({ input, node, type }: { input: string; node: string; type: string }) =>
    `“${input}” of “${node}” stays open: nothing near gives ${type}.`,
  'still-takes-from': ({ consumer, node, problem }: { consumer: string; node: string; problem: string }) =>
    `“${consumer}” still takes from “${node}”: ${problem}`,
  'takes-now': ({ input, node, port, source }: { input: string; node: string; port: string; source: string }) =>
    `“${input}” of “${node}” takes “${port}” of “${source}”.`,
  'value-overwritten': ({ spec, node, old, value }: { spec: string; node: string; old: string; value: string }) =>
    `“${spec}” of “${node}” was ${old} and is ${value} now.`,
  'wire-does-not-fit': ({ target, problem }: { target: string; problem: string }) =>
    `A wire into “${target}” does not fit: ${problem}`,
  'wire-not-kept': ({
    isIn,
    other,
    port,
    node,
    output,
  }: {
    isIn: boolean;
    other: string;
    port: string;
    node: string;
    output: string;
  }) =>
    isIn
      ? `The wire from “${other}” into “${port}” of “${node}” could not be kept.`
      : `The wire from “${output}” of “${node}” to “${port}” of “${other}” could not be kept.`,
  'type-refused-behind': ({ refusal, node }: { refusal: string; node: string }) =>
    `${refusal.slice(0, -1)}, at “${node}”, where this leads.`,
  'no-node': ({ node }: { node: string }) => `The node ${node} is not in this file.`,
  'across-border': () => 'A wire cannot cross the border of a nested graph: use its ports, or a remote link.',
  'closes-loop': ({ source, target }: { source: string; target: string }) =>
    `A wire from “${source}” to “${target}” would close a loop, which this catalogue forbids.`,
  'takes-nothing-given': ({ node, source, port }: { node: string; source: string; port: string }) =>
    `“${node}” takes nothing that “${source}” gives at “${port}”.`,
  'no-kind': ({ catalogue, kind }: { catalogue: string; kind: string }) =>
    `The catalogue “${catalogue}” has no kind “${kind}”.`,
  'node-is-fixed': ({ node, kind }: { node: string; kind: string }) =>
    `“${node}” is a ${kind.toLowerCase()}; what it holds or carries would be lost.`,
  'kind-is-fixed': ({ kind }: { kind: string }) => `A node cannot become a ${kind.toLowerCase()}.`,
  'no-consumers': ({ port, node }: { port: string; node: string }) => `Nothing takes from “${port}” of “${node}”.`,
  'same-direction': ({ port, direction }: { port: string; direction: string }) => `“${port}” is an ${direction} too.`,
  'end-gone': () => 'What the wire hangs on is not there any more.',
  'no-wire-to-stand-in': () => 'There is no wire to stand in.',
  'wire-in-other-graph': ({ node }: { node: string }) => `“${node}” is in another graph than the wire.`,
  'at-wire-already': ({ node }: { node: string }) => `“${node}” is at that wire already.`,
  'passes-nothing': ({ node }: { node: string }) => `“${node}” passes nothing on, so it cannot stand in a wire.`,
  'wired-already': ({ node, port }: { node: string; port: string }) =>
    `“${node}” is wired at “${port}” already: pull it out first.`,
  'neither-swaps': ({ a, b, node }: { a: string; b: string; node: string }) =>
    `“${a}” and “${b}” of “${node}” cannot be swapped: neither is wired, or one does not take what the other has.`,
  'neither-wired': ({ a, b, node }: { a: string; b: string; node: string }) =>
    `Neither “${a}” nor “${b}” of “${node}” is wired.`,
  'nothing-to-swap': ({ node }: { node: string }) => `“${node}” has no two inputs that take the same: name two.`,
  'parameter-not-kept': ({ parameter, node, value }: { parameter: string; node: string; value: string }) =>
    `“${parameter}” of “${node}”, ${value}, could not be kept.`,
  'inputs-opened': ({ count, what, nodes }: { count: number; what: string; nodes: readonly string[] }) =>
    `${plural(count, 'input')} ${count === 1 ? 'has' : 'have'} lost ${what}: ${listed(nodes)}.`,
  'inputs-elsewhere': ({ count, nodes }: { count: number; nodes: readonly string[] }) =>
    `${plural(count, 'input')} ${count === 1 ? 'takes' : 'take'} something else now: ${listed(nodes)}.`,
  'inputs-supplied': ({ count, nodes }: { count: number; nodes: readonly string[] }) =>
    `${plural(count, 'input')} that ${count === 1 ? 'was' : 'were'} open ${count === 1 ? 'is' : 'are'} supplied now: ${listed(nodes)}.`,
  'input-opened': (p: { input: string; node: string; source: string; feed: string | undefined }) =>
    `Input “${p.input}” of “${p.node}” is open now: ${p.feed === undefined ? `it took “${p.source}”` : `the feed “${p.feed}” supplied it with “${p.source}”`}.`,
  'feed-changed': (p: { input: string; node: string; before: string | undefined; now: string | undefined }) =>
    `Input “${p.input}” of “${p.node}” is ${p.now === undefined ? 'no longer supplied' : 'supplied'} by the feed “${p.now ?? p.before}”${p.now === undefined ? '' : ' now'}${p.now !== undefined && p.before !== undefined ? `, not by “${p.before}”` : ''}.`,
  'reading-lost': ({ node, parameter, read }: { node: string; parameter: string; read: string }) =>
    `The expression in “${parameter}” of “${node}” reads “${read}”, which is gone.`,
  'readings-lost': ({ count, nodes }: { count: number; nodes: readonly string[] }) =>
    `${plural(count, 'expression')} ${count === 1 ? 'has' : 'have'} lost what ${count === 1 ? 'it reads' : 'they read'}: ${listed(nodes)}.`,
  'reading-kept': ({ node, parameter }: { node: string; parameter: string }) =>
    `“${parameter}” of “${node}” keeps the value that it read.`,
  'end-lost': ({ end, isGone }: { end: string; isGone: boolean }) =>
    `The end “${end}” ${isGone ? 'is gone' : 'no longer computes anything'}.`,
  'ends-lost': ({ count, ends }: { count: number; ends: readonly string[] }) =>
    `${plural(count, 'end')} no longer ${count === 1 ? 'computes' : 'compute'} anything: ${listed(ends)}.`,
});
