import { sentences } from '../said.ts';

/** What is said in this room when something cannot be done, or was found. */
export const { say, refuse, find } = sentences('document', {
  'not-json': ({ why }: { why: string }) => `this is not valid JSON: ${why}.`,
  'not-a-graph-file': () => 'this JSON is not a graph file: it lacks "format": "basitax-graph".',
  'other-version': ({ version }: { version: string }) =>
    `this graph file has version ${version}; this program reads version 1.`,
  'bad-field': ({ issue }: { issue: string }) => issue,
  'json-too-deep': ({ most }: { most: number }) => `this JSON is nested deeper than ${most} levels.`,
  'json-too-large': ({ most }: { most: number }) =>
    `this JSON holds more than ${most.toLocaleString('en')} values, the most that can be read.`,
  'lost-root': () => 'The outermost graph was missing; an empty one took its place.',
  'doubled-id': ({ id }: { id: string }) => `Two things have the id ${id}; the second one was left out.`,
  'bad-number': ({ fields, id }: { fields: string[]; id: string }) =>
    `${fields.join(' and ')} of ${id} was not a number; it was set to 0.`,
  'lost-graph': ({ what }: { what: string }) =>
    `${what} was in a graph that is missing; it is now in the outermost graph.`,
  'lost-frame': ({ node }: { node: string }) =>
    `“${node}” was a member of a frame that is not in its graph; it is now in no frame.`,
  'lost-inner': ({ node }: { node: string }) =>
    `“${node}” held a nested graph that is missing or belongs to another node; it now holds nothing.`,
  'doubled-port': ({ node, port }: { node: string; port: string }) =>
    `“${node}” has the port ${port} twice; the second one was left out.`,
  'frame-tree': ({ frame, most }: { frame: string; most: number }) =>
    `Frame “${frame}” was in a frame that is missing, in itself, or more than ${most} frames deep; it is now in no frame.`,
  'wire-to-no-node': ({ wire, node }: { wire: string; node: string }) =>
    `Wire ${wire} led to the node ${node}, which is missing; the wire was left out.`,
  'wire-from-no-output': ({ port, node }: { port: string; node: string }) =>
    `A wire came from the output ${port}, which “${node}” does not have; the wire was left out.`,
  'wire-to-no-input': ({ port, node }: { port: string; node: string }) =>
    `A wire led to the input ${port}, which “${node}” does not have; the wire was left out.`,
  'wire-over-border': ({ from, to }: { from: string; to: string }) =>
    `The wire from “${from}” to “${to}” crossed the border of a nested graph; it was left out.`,
  'second-wire': ({ port, node, from }: { port: string; node: string; from: string }) =>
    `The input ${port} of “${node}” had two wires; the one from “${from}” was left out.`,
  nesting: ({ node, most }: { node: string; most: number }) =>
    `“${node}” was nested in itself or more than ${most} graphs deep; it is now in the outermost graph and holds nothing.`,
  'name-changed': ({ name, free }: { name: string; free: string }) =>
    `“${name}” could not stay the node’s name; the node is now called “${free}” and shows the old name as its label.`,
  'twice-in-file': ({ what, row }: { what: string; row: string }) =>
    `The ${what} ${row} stands twice in the file; the second one was left out.`,
  'wire-direction': () => 'A wire leads from an output to an input.',
  'type-refused': ({
    to,
    takes,
    from,
    gives,
    bridge,
  }: {
    to: string;
    takes: string;
    from: string;
    gives: string;
    bridge: string | undefined;
  }) => `“${to}” takes ${takes}, “${from}” gives ${gives}${bridge === undefined ? '' : `; “${bridge}” converts it`}.`,
  'value-refused': ({ parameter, expected, value }: { parameter: string; expected: string; value: string }) =>
    `“${parameter}” takes ${expected}, not ${value}.`,
  'name-empty': () => 'A node needs a name: letters, digits and _, starting with a letter.',
  'name-not-legal': ({ name }: { name: string }) =>
    `“${name}” is not a legal name: use letters, digits and _, start with a letter, leave out spaces.`,
  'name-too-long': ({ length }: { length: number }) => `A name has at most 200 characters; this one has ${length}.`,
  'name-taken': ({ name }: { name: string }) => `“${name}” is taken by another node of this graph.`,
});
