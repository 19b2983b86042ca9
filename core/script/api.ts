/**
 * What scripts see. The one source of the object model in `model/`, of completion and hover help in the editor, and of
 * docs/scripting.md.
 * Lengths and places are pixels at 100 % zoom, y grows downwards.
 */

/** What a parameter may hold that a script can work with: text, a number, yes or no, or a row of numbers. */
export type ScriptValue = string | number | boolean | null | readonly number[];

/** Anything that can be handed to an operation as its selection. */
export type ScriptThing = ScriptNode | ScriptFrame | ScriptWire | ScriptNote;

/** An option that a script declares; the form that asks for it is made from this. */
export interface ScriptOption {
  readonly type: 'number' | 'integer' | 'yes or no' | 'text' | 'choice' | 'color' | 'kind' | 'query';
  readonly default: string | number | boolean;
  readonly title?: string;
  /** Said beside the field. */
  readonly hint?: string;
  readonly unit?: string;
  readonly min?: number;
  readonly max?: number;
  /** What may be chosen, where the type is `choice`. */
  readonly choices?: readonly string[];
}

/** Every operation as a function: `operations.alignLeft(nodes)`. Its options stand in its own type. */
export interface ScriptOperations {
  readonly [name: string]: (
    things?: readonly ScriptThing[],
    options?: Readonly<Record<string, unknown>>,
  ) => ScriptReport;
}

/** What stands at the top of every script. */
export interface ScriptGlobals {
  /** The file that the script runs on. */
  readonly file: ScriptFile;
  /** The graph that the script was started in; the outermost one in a batch. */
  readonly graph: ScriptGraph;
  /**
   * The nodes that the script runs over: those selected, in the order in which they were, the first one first; or those
   * that fit the query, or all of the graph, in the order of reading.
   */
  readonly nodes: ScriptNodes;
  /** What kinds of nodes there are. */
  readonly catalogue: ScriptCatalogue;
  /** The team's asset store: what the paths in a file point at. */
  readonly assets: ScriptAssets;
  /** Every operation as a function: `operations.alignLeft(nodes)`. */
  readonly operations: ScriptOperations;
  /**
   * Declares what can be set from outside, and gives the values: `const { amount } = options({ amount: { type:
   * 'number', default: 2 } })`. Called at most once, before anything is changed.
   */
  options<T extends Record<string, ScriptOption>>(
    declared: T,
  ): {
    readonly [K in keyof T]: T[K]['default'] extends number
      ? number
      : T[K]['default'] extends boolean
        ? boolean
        : string;
  };
  /**
   * The nodes of the graph that fit a query, in the order of reading. The language is that of finding and of batches.
   * Throws where the query has a mistake.
   */
  select(query: string): ScriptNodes;
  /**
   * Does an operation of the registry, such as `run('align-left', nodes)`, and gives its report. Throws where it is
   * refused.
   */
  run(operation: string, things?: readonly ScriptThing[], options?: Readonly<Record<string, unknown>>): ScriptReport;
  /** Writes a line in the console. */
  log(...parts: readonly unknown[]): void;
  /** Writes a line in the console that stands out. */
  warn(...parts: readonly unknown[]): void;
  /** Says how far the script is, from 0 to 1. */
  progress(fraction: number, what?: string): void;
  /** Passes over a node and says why; the script goes on. */
  skip(node: ScriptNode, reason: string): void;
  /** Ends the script with a sentence; nothing is changed. */
  fail(reason: string): never;
  /** Gives a file out beside the edit, such as a report: name and text. */
  output(name: string, text: string): void;
  /** Rows as CSV text (RFC 4180), with the columns of the first row on top. */
  csv(rows: readonly Readonly<Record<string, unknown>>[]): string;
  /** A number from 0 up to, but not, 1. The same row each time: there is no other chance here, and no clock. */
  random(): number;
}

/** A parameter as a kind declares it. */
export interface ScriptParameter {
  readonly id: string;
  readonly title: string;
  readonly type: 'number' | 'integer' | 'boolean' | 'choice' | 'text' | 'color' | 'vector' | 'path' | 'expression';
  readonly unit: string | undefined;
  readonly min: number | undefined;
  readonly max: number | undefined;
  readonly step: number | undefined;
  /** What may be chosen, where the type is `choice`. */
  readonly choices: readonly string[] | undefined;
  readonly default: ScriptValue;
}

/** A parameter of a node, with what it holds. */
export interface ScriptNodeParameter extends ScriptParameter {
  /** What was set, else the default; undefined where it holds an expression or something unknown. */
  readonly value: ScriptValue | undefined;
  readonly holds: 'default' | 'value' | 'expression' | 'something unknown';
}

/** A kind of node, as the catalogue has it. */
export interface ScriptKind {
  readonly id: string;
  readonly title: string;
  readonly category: string;
  /** Its result is what the file is for. */
  readonly isEnd: boolean;
  readonly parameters: readonly ScriptParameter[];
  readonly inputs: readonly ScriptKindPort[];
  readonly outputs: readonly ScriptKindPort[];
}

/** A port that a new node of a kind starts with. */
export interface ScriptKindPort {
  readonly id: string;
  readonly name: string;
  readonly type: string;
}

/** What kinds of nodes there are. */
export interface ScriptCatalogue {
  readonly kinds: readonly ScriptKind[];
  /** The kind of that id; undefined where the catalogue has none. */
  kind(id: string): ScriptKind | undefined;
}

/** The asset store. Where none is set up, asking it fails the script. */
export interface ScriptAssets {
  /** Is there anything at a path? */
  exists(path: string): boolean;
  /** The paths of all assets with a file name, sorted. */
  find(name: string): readonly string[];
}

/** What a house rule found. */
export interface ScriptFinding {
  readonly rule: string;
  readonly severity: 'error' | 'warning' | 'info';
  readonly message: string;
  /** The node that it is about, if it is about one. */
  readonly node: ScriptNode | undefined;
  readonly canFix: boolean;
  /** Does the fix that the rule proposes. Throws where there is none. */
  fix(): ScriptReport;
}

/** How hard a graph is to read, in numbers; lengths in pixels at 100 % zoom. */
export interface ScriptMeasures {
  /** 0 to 100; 100 where nothing is wrong. */
  readonly readability: number;
  readonly nodes: number;
  readonly wires: number;
  readonly frames: number;
  /** Points at which wires of different sources cross. */
  readonly crossings: number;
  /** Pairs of a wire and a node that it runs through. */
  readonly throughNodes: number;
  readonly overlaps: number;
  /** The length of all wires. */
  readonly length: number;
  readonly bends: number;
  /** Wires that run against the flow. */
  readonly backward: number;
}

/** What an operation did. */
export interface ScriptReport {
  readonly summary: string;
  /** What it could not keep or wants to be known, as sentences. */
  readonly findings: readonly string[];
  /** What it would have selected, such as what it made. */
  readonly made: readonly ScriptNode[];
}

/** The file as a whole. */
export interface ScriptFile {
  readonly title: string;
  /** Every graph, the outermost first. */
  readonly graphs: readonly ScriptGraph[];
  /** Every node of every graph, in the order of reading; what lies in a nested graph follows its node. */
  readonly nodes: ScriptNodes;
  /** The named sets of nodes, by name. */
  readonly sets: readonly ScriptNodeSet[];
  /** The set of that name; undefined where there is none. */
  set(name: string): ScriptNodeSet | undefined;
  /** Makes a set of nodes of whichever graphs. Throws where the name is taken. */
  makeSet(name: string, nodes: readonly ScriptNode[]): ScriptNodeSet;
  /** What house rules find: those named by id, else those that are looked for by default. */
  findings(...rules: readonly string[]): readonly ScriptFinding[];
  /** The node at a path of names, such as `Water/Caustics`; undefined where there is none. */
  at(path: string): ScriptNode | undefined;
}

/** A named set of nodes, across frames and graphs. */
export interface ScriptNodeSet {
  readonly id: string;
  name: string;
  readonly nodes: ScriptNodes;
  add(nodes: readonly ScriptNode[]): void;
  /** Takes nodes out of the set; they stay as they are. */
  release(nodes: readonly ScriptNode[]): void;
  /** Takes the set away; its nodes stay as they are. */
  remove(): void;
}

/** What a script's `each(file)` gave for a file; its `all(results)` is given those of all files. */
export interface ScriptResult {
  /** The name of the file. */
  readonly file: string;
  readonly result: unknown;
}

/** One graph: the outermost, or one that a nested node holds. */
export interface ScriptGraph {
  readonly id: string;
  readonly name: string;
  /** All of its nodes, in the order of reading: sources first, and what is free by its place. */
  readonly nodes: ScriptNodes;
  readonly wires: readonly ScriptWire[];
  readonly frames: readonly ScriptFrame[];
  readonly notes: readonly ScriptNote[];
  /** Named sources of remote links. */
  readonly beacons: ScriptNodes;
  /** What listens to beacons. */
  readonly taps: ScriptNodes;
  /** Standing feeds. */
  readonly feeds: ScriptNodes;
  readonly measures: ScriptMeasures;
  /** The node that holds this graph; undefined for the outermost. */
  readonly host: ScriptNode | undefined;
  /** The node of that name; undefined where there is none. */
  node(name: string): ScriptNode | undefined;
  /** The nodes that fit a query, in the order of reading. */
  select(query: string): ScriptNodes;
  /** Adds a node of a kind. Throws where the catalogue has no such kind, or a parameter does not fit. */
  add(
    kind: string,
    given?: ScriptNewNode & { readonly parameters?: Readonly<Record<string, ScriptValue>> },
  ): ScriptNode;
  /** Puts a frame around nodes and frames, which become its members. */
  frame(things: readonly (ScriptNode | ScriptFrame)[], title?: string): ScriptFrame;
  /** Writes a note. */
  note(text: string, x: number, y: number): ScriptNote;
  /** Puts a tap of a beacon into this graph; with `to`, it feeds that input. */
  tap(
    beacon: ScriptNode,
    given?: { readonly to?: ScriptPort; readonly replace?: boolean; readonly x?: number; readonly y?: number },
  ): ScriptNode;
  /** Lets a node of this graph supply the open inputs of a data type, in its graph or frame. */
  feed(
    source: ScriptNode,
    given?: {
      readonly covers?: 'graph' | 'frame';
      readonly types?: string;
      readonly output?: string;
      readonly takeWires?: boolean;
    },
  ): ScriptNode;
}

/** What a new node may be given. */
export interface ScriptNewNode {
  readonly x?: number;
  readonly y?: number;
  readonly name?: string;
  readonly label?: string;
}

/** Nodes in a defined order, with what is done to many at once. An array: everything that arrays have works too. */
export interface ScriptNodes extends ReadonlyArray<ScriptNode> {
  /** The rectangle around all of them; undefined where there are none. */
  readonly bounds: ScriptRect | undefined;
  /** The same nodes in the order of reading: sources before what they feed, and what is free by its place. */
  inFlowOrder(): ScriptNodes;
  /** The same nodes, from left to right, then from the top down. */
  byPlace(): ScriptNodes;
  /** All that feeds any of these, over every step, without these; in the order of reading. */
  upstream(): ScriptNodes;
  /** All that any of these feeds, over every step, without these; in the order of reading. */
  downstream(): ScriptNodes;
  /** Those that have a parameter. */
  having(parameter: string): ScriptNodes;
  /** Sets a parameter of each; those that lack it are skipped with a reason. Gives how many were set. */
  set(parameter: string, value: ScriptValue, how?: ScriptSet): number;
  /** Does an operation on them: `nodes.run('align-left')`. */
  run(operation: string, options?: Readonly<Record<string, unknown>>): ScriptReport;
  /**
   * Deletes them. Consumers are given the source that they would have with all of these bypassed, unless `heal` is
   * false.
   */
  remove(how?: { readonly heal?: boolean }): ScriptReport;
}

/** A rectangle in pixels at 100 % zoom. */
export interface ScriptRect {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

/** How a parameter is set. */
export interface ScriptSet {
  /** The script fails where the node lacks the parameter, in place of passing over it. */
  readonly must?: boolean;
  /** An expression or an unknown value is replaced, in place of being passed over. */
  readonly replace?: boolean;
}

/** A node. What is written here is checked at once by the rules that hold everywhere. */
export interface ScriptNode {
  readonly id: string;
  readonly kind: string;
  /** The title of its kind. */
  readonly kindTitle: string;
  /** Unique in its graph: letters, digits and _, a letter first. Setting one that is taken or no name throws. */
  name: string;
  /** What stands on it; empty where only its name does. */
  label: string;
  /** Its left edge. */
  x: number;
  /** Its top edge. */
  y: number;
  readonly width: number;
  readonly height: number;
  bypassed: boolean;
  /** Arranging leaves it where it is. */
  pinned: boolean;
  /** Its own colour as #rrggbb; undefined where it has that of its category. */
  color: string | undefined;
  /** Locked parameters are passed over with a reason. */
  locked: boolean;
  /** Where it stands, by names: `Water/Caustics`. */
  readonly path: string;
  readonly graph: ScriptGraph;
  /** The innermost frame around it. */
  readonly frame: ScriptFrame | undefined;
  /** The graph that it holds, where it is a nested one. */
  readonly inner: ScriptGraph | undefined;
  readonly inputs: readonly ScriptPort[];
  readonly outputs: readonly ScriptPort[];
  /** The names of the parameters that it has, by its kind or set on it. */
  readonly parameters: readonly string[];
  /**
   * The nodes that feed it, in the order of its inputs, over reroute points, remote links, standing feeds, bypassed
   * nodes and nested graphs; then those that its expressions read.
   */
  readonly sources: ScriptNodes;
  /** The nodes that it feeds in the same sense, in the order of reading. */
  readonly consumers: ScriptNodes;
  /** The nodes at the other ends of the wires at its inputs, whatever they are. */
  readonly wiredFrom: ScriptNodes;
  /** The nodes at the other ends of the wires at its outputs, whatever they are. */
  readonly wiredTo: ScriptNodes;
  /** All that feeds it, over every step, or over so many; in the order of reading. */
  upstream(steps?: number): ScriptNodes;
  /** All that it feeds, over every step, or over so many; in the order of reading. */
  downstream(steps?: number): ScriptNodes;
  /** Taps: the beacon that it listens to. */
  readonly beacon: ScriptNode | undefined;
  /** Beacons: the taps that listen to it. */
  readonly taps: ScriptNodes;
  /** Has a tap listen to another beacon. */
  listenTo(beacon: ScriptNode): ScriptReport;
  /** The named sets that it is in. */
  readonly sets: readonly ScriptNodeSet[];
  /** What the present values of its parameters are called; undefined where it has only these. */
  readonly setting: string | undefined;
  /** The names of its other settings. */
  readonly settings: readonly string[];
  /** Keeps the present values under their name, and goes on with a copy of them under a new one. */
  addSetting(name: string): ScriptReport;
  /** Puts the values of another setting in the place of the present ones, which are kept. */
  chooseSetting(name: string): ScriptReport;
  /** Forgets a setting that is not the present one. */
  removeSetting(name: string): ScriptReport;
  /** The paths that its parameters hold. */
  readonly paths: readonly { readonly parameter: string; readonly path: string }[];
  /** An input by id or name; undefined where there is none. */
  input(port: string): ScriptPort | undefined;
  /** An output by id or name; undefined where there is none. */
  output(port: string): ScriptPort | undefined;
  /**
   * The value of a parameter: what was set, else the default of its kind. Undefined where the node lacks it, or where
   * it holds an expression or something unknown.
   */
  get(parameter: string): ScriptValue | undefined;
  /** A parameter with its title, type, range, unit and what it holds; undefined where the node lacks it. */
  parameter(name: string): ScriptNodeParameter | undefined;
  /** Does it have the parameter? */
  has(parameter: string): boolean;
  /** Was the parameter set, or does its default hold? */
  isSet(parameter: string): boolean;
  /**
   * Sets a parameter. False where the node was skipped: it lacks it, is locked, or holds an expression there. Throws
   * where the value does not fit.
   */
  set(parameter: string, value: ScriptValue, how?: ScriptSet): boolean;
  /** Takes a parameter back to the default of its kind. */
  reset(parameter: string): boolean;
  /** Moves it there. */
  moveTo(x: number, y: number): void;
  /** Puts it beside another node, with a gap, their middles level. */
  placeBeside(other: ScriptNode, where?: 'right' | 'left' | 'above' | 'below', gap?: number): void;
  /** Wires it to another node: the first output and input that fit, or those named. */
  connect(
    to: ScriptNode,
    ports?: { readonly output?: string; readonly input?: string; readonly replace?: boolean },
  ): void;
  /** Makes it one of another kind, with all wires and parameters that still fit. */
  become(kind: string): ScriptReport;
  /** Deletes it. */
  remove(how?: { readonly heal?: boolean }): ScriptReport;
}

/** A port of a node. */
export interface ScriptPort {
  readonly id: string;
  readonly name: string;
  readonly type: string;
  readonly node: ScriptNode;
  /** The wires at it: at most one at an input. */
  readonly wires: readonly ScriptWire[];
  /**
   * Wires this output to an input, or this input to an output. Throws where they do not fit, or the input has a wire
   * and `replace` is not said.
   */
  connect(other: ScriptPort, how?: { readonly replace?: boolean }): void;
  /** Makes this output a beacon, so that taps can listen to it. */
  beacon(name?: string): ScriptNode;
}

/** A wire, from an output to an input. */
export interface ScriptWire {
  readonly id: string;
  readonly from: ScriptPort;
  readonly to: ScriptPort;
  /** Switched off: its input counts as open. */
  off: boolean;
  /** Cuts it. */
  remove(): ScriptReport;
}

/** A frame around nodes and other frames. */
export interface ScriptFrame extends ScriptRect {
  readonly id: string;
  title: string;
  /** What it is about. */
  note: string;
  color: string | undefined;
  readonly graph: ScriptGraph;
  /** The frame around it. */
  readonly parent: ScriptFrame | undefined;
  /** Its members, without those of frames within it; in the order of reading. */
  readonly nodes: ScriptNodes;
  readonly frames: readonly ScriptFrame[];
  /** Drawn as one block. */
  folded: boolean;
  /** Makes nodes and frames its members; they stay where they are. */
  add(things: readonly (ScriptNode | ScriptFrame)[]): ScriptReport;
  /** Takes members out of it, into the frame around it; they stay where they are. */
  release(things: readonly (ScriptNode | ScriptFrame)[]): ScriptReport;
  /** Moves it there with all that is in it. */
  moveTo(x: number, y: number): void;
  /** Takes the frame away; its members stay. */
  remove(): ScriptReport;
}

/** A note on a graph. */
export interface ScriptNote extends ScriptRect {
  readonly id: string;
  /** Markdown. */
  text: string;
  readonly graph: ScriptGraph;
  /** Moves it there. */
  moveTo(x: number, y: number): void;
  remove(): ScriptReport;
}
