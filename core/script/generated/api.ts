// Made from core/script/api.ts by npm run docs.
import type { ApiType } from '../api-type.ts';

export const scriptApi: readonly ApiType[] = [
  {
    "name": "ScriptOption",
    "doc": "An option that a script declares; the form that asks for it is made from this.",
    "extends": [],
    "members": [
      {
        "name": "type",
        "signature": "type: 'number' | 'integer' | 'yes or no' | 'text' | 'choice' | 'color' | 'kind' | 'query'",
        "doc": "",
        "gives": "'number' | 'integer' | 'yes or no' | 'text' | 'choice' | 'color' | 'kind' | 'query'",
        "isMethod": false
      },
      {
        "name": "default",
        "signature": "default: string | number | boolean",
        "doc": "",
        "gives": "string | number | boolean",
        "isMethod": false
      },
      {
        "name": "title",
        "signature": "title?: string",
        "doc": "",
        "gives": "string",
        "isMethod": false
      },
      {
        "name": "hint",
        "signature": "hint?: string",
        "doc": "Said beside the field.",
        "gives": "string",
        "isMethod": false
      },
      {
        "name": "unit",
        "signature": "unit?: string",
        "doc": "",
        "gives": "string",
        "isMethod": false
      },
      {
        "name": "min",
        "signature": "min?: number",
        "doc": "",
        "gives": "number",
        "isMethod": false
      },
      {
        "name": "max",
        "signature": "max?: number",
        "doc": "",
        "gives": "number",
        "isMethod": false
      },
      {
        "name": "choices",
        "signature": "choices?: readonly string[]",
        "doc": "What may be chosen, where the type is `choice`.",
        "gives": "readonly string[]",
        "isMethod": false
      }
    ]
  },
  {
    "name": "ScriptGlobals",
    "doc": "What stands at the top of every script.",
    "extends": [],
    "members": [
      {
        "name": "file",
        "signature": "file: ScriptFile",
        "doc": "The file that the script runs on.",
        "gives": "ScriptFile",
        "isMethod": false
      },
      {
        "name": "graph",
        "signature": "graph: ScriptGraph",
        "doc": "The graph that the script was started in; the outermost one in a batch.",
        "gives": "ScriptGraph",
        "isMethod": false
      },
      {
        "name": "nodes",
        "signature": "nodes: ScriptNodes",
        "doc": "The nodes that the script runs over: those selected, in the order in which they were, the first one first; those that fit the query, by id; or all of the graph.",
        "gives": "ScriptNodes",
        "isMethod": false
      },
      {
        "name": "options",
        "signature": "options<T extends Record<string, ScriptOption>>( declared: T, ): { readonly [K in keyof T]: T[K]['default'] extends number ? number : T[K]['default'] extends boolean ? boolean : string }",
        "doc": "Declares what can be set from outside, and gives the values: `const { amount } = options({ amount: { type: 'number', default: 2 } })`. Called at most once, before anything is changed.",
        "gives": "{ readonly [K in keyof T]: T[K]['default'] extends number ? number : T[K]['default'] extends boolean ? boolean : string }",
        "isMethod": true
      },
      {
        "name": "select",
        "signature": "select(query: string): ScriptNodes",
        "doc": "The nodes of the graph that fit a query, by id. The language is that of finding and of batches. Throws where the query has a mistake.",
        "gives": "ScriptNodes",
        "isMethod": true
      },
      {
        "name": "run",
        "signature": "run(operation: string, things?: readonly ScriptThing[], options?: Readonly<Record<string, unknown>>): ScriptReport",
        "doc": "Does an operation of the registry, such as `run('align-left', nodes)`, and gives its report. Throws where it is refused.",
        "gives": "ScriptReport",
        "isMethod": true
      },
      {
        "name": "log",
        "signature": "log(...parts: readonly unknown[]): void",
        "doc": "Writes a line in the console.",
        "gives": "void",
        "isMethod": true
      },
      {
        "name": "warn",
        "signature": "warn(...parts: readonly unknown[]): void",
        "doc": "Writes a line in the console that stands out.",
        "gives": "void",
        "isMethod": true
      },
      {
        "name": "progress",
        "signature": "progress(fraction: number, what?: string): void",
        "doc": "Says how far the script is, from 0 to 1.",
        "gives": "void",
        "isMethod": true
      },
      {
        "name": "skip",
        "signature": "skip(node: ScriptNode, reason: string): void",
        "doc": "Passes over a node and says why; the script goes on.",
        "gives": "void",
        "isMethod": true
      },
      {
        "name": "fail",
        "signature": "fail(reason: string): never",
        "doc": "Ends the script with a sentence; nothing is changed.",
        "gives": "never",
        "isMethod": true
      },
      {
        "name": "output",
        "signature": "output(name: string, text: string): void",
        "doc": "Gives a file out beside the edit, such as a report: name and text.",
        "gives": "void",
        "isMethod": true
      },
      {
        "name": "csv",
        "signature": "csv(rows: readonly Readonly<Record<string, unknown>>[]): string",
        "doc": "Rows as CSV text (RFC 4180), with the columns of the first row on top.",
        "gives": "string",
        "isMethod": true
      },
      {
        "name": "random",
        "signature": "random(): number",
        "doc": "A number from 0 up to, but not, 1. The same row each time: there is no other chance here, and no clock.",
        "gives": "number",
        "isMethod": true
      }
    ]
  },
  {
    "name": "ScriptReport",
    "doc": "What an operation did.",
    "extends": [],
    "members": [
      {
        "name": "summary",
        "signature": "summary: string",
        "doc": "",
        "gives": "string",
        "isMethod": false
      },
      {
        "name": "findings",
        "signature": "findings: readonly string[]",
        "doc": "What it could not keep or wants to be known, as sentences.",
        "gives": "readonly string[]",
        "isMethod": false
      },
      {
        "name": "made",
        "signature": "made: readonly ScriptNode[]",
        "doc": "What it would have selected, such as what it made.",
        "gives": "readonly ScriptNode[]",
        "isMethod": false
      }
    ]
  },
  {
    "name": "ScriptFile",
    "doc": "The file as a whole.",
    "extends": [],
    "members": [
      {
        "name": "title",
        "signature": "title: string",
        "doc": "",
        "gives": "string",
        "isMethod": false
      },
      {
        "name": "graphs",
        "signature": "graphs: readonly ScriptGraph[]",
        "doc": "Every graph, the outermost first.",
        "gives": "readonly ScriptGraph[]",
        "isMethod": false
      },
      {
        "name": "nodes",
        "signature": "nodes: ScriptNodes",
        "doc": "Every node of every graph, by id.",
        "gives": "ScriptNodes",
        "isMethod": false
      },
      {
        "name": "at",
        "signature": "at(path: string): ScriptNode | undefined",
        "doc": "The node at a path of names, such as `Water/Caustics`; undefined where there is none.",
        "gives": "ScriptNode | undefined",
        "isMethod": true
      }
    ]
  },
  {
    "name": "ScriptGraph",
    "doc": "One graph: the outermost, or one that a nested node holds.",
    "extends": [],
    "members": [
      {
        "name": "id",
        "signature": "id: string",
        "doc": "",
        "gives": "string",
        "isMethod": false
      },
      {
        "name": "name",
        "signature": "name: string",
        "doc": "",
        "gives": "string",
        "isMethod": false
      },
      {
        "name": "nodes",
        "signature": "nodes: ScriptNodes",
        "doc": "All of its nodes, by id.",
        "gives": "ScriptNodes",
        "isMethod": false
      },
      {
        "name": "wires",
        "signature": "wires: readonly ScriptWire[]",
        "doc": "",
        "gives": "readonly ScriptWire[]",
        "isMethod": false
      },
      {
        "name": "frames",
        "signature": "frames: readonly ScriptFrame[]",
        "doc": "",
        "gives": "readonly ScriptFrame[]",
        "isMethod": false
      },
      {
        "name": "notes",
        "signature": "notes: readonly ScriptNote[]",
        "doc": "",
        "gives": "readonly ScriptNote[]",
        "isMethod": false
      },
      {
        "name": "beacons",
        "signature": "beacons: ScriptNodes",
        "doc": "Named sources of remote links.",
        "gives": "ScriptNodes",
        "isMethod": false
      },
      {
        "name": "host",
        "signature": "host: ScriptNode | undefined",
        "doc": "The node that holds this graph; undefined for the outermost.",
        "gives": "ScriptNode | undefined",
        "isMethod": false
      },
      {
        "name": "node",
        "signature": "node(name: string): ScriptNode | undefined",
        "doc": "The node of that name; undefined where there is none.",
        "gives": "ScriptNode | undefined",
        "isMethod": true
      },
      {
        "name": "select",
        "signature": "select(query: string): ScriptNodes",
        "doc": "The nodes that fit a query, by id.",
        "gives": "ScriptNodes",
        "isMethod": true
      },
      {
        "name": "add",
        "signature": "add( kind: string, given?: { readonly x?: number; readonly y?: number; readonly name?: string; readonly label?: string; readonly parameters?: Readonly<Record<string, ScriptValue>> }, ): ScriptNode",
        "doc": "Adds a node of a kind. Throws where the catalogue has no such kind, or a parameter does not fit.",
        "gives": "ScriptNode",
        "isMethod": true
      },
      {
        "name": "frame",
        "signature": "frame(things: readonly (ScriptNode | ScriptFrame)[], title?: string): ScriptFrame",
        "doc": "Puts a frame around nodes and frames, which become its members.",
        "gives": "ScriptFrame",
        "isMethod": true
      },
      {
        "name": "note",
        "signature": "note(text: string, x: number, y: number): ScriptNote",
        "doc": "Writes a note.",
        "gives": "ScriptNote",
        "isMethod": true
      }
    ]
  },
  {
    "name": "ScriptNodes",
    "doc": "Nodes in a defined order, with what is done to many at once. An array: everything that arrays have works too.",
    "extends": [
      "ReadonlyArray<ScriptNode>"
    ],
    "members": [
      {
        "name": "bounds",
        "signature": "bounds: ScriptRect | undefined",
        "doc": "The rectangle around all of them; undefined where there are none.",
        "gives": "ScriptRect | undefined",
        "isMethod": false
      },
      {
        "name": "inFlowOrder",
        "signature": "inFlowOrder(): ScriptNodes",
        "doc": "The same nodes, sources before what they feed; what stands in a loop by id.",
        "gives": "ScriptNodes",
        "isMethod": true
      },
      {
        "name": "byPlace",
        "signature": "byPlace(): ScriptNodes",
        "doc": "The same nodes, from left to right, then from the top down.",
        "gives": "ScriptNodes",
        "isMethod": true
      },
      {
        "name": "having",
        "signature": "having(parameter: string): ScriptNodes",
        "doc": "Those that have a parameter.",
        "gives": "ScriptNodes",
        "isMethod": true
      },
      {
        "name": "set",
        "signature": "set(parameter: string, value: ScriptValue, how?: ScriptSet): number",
        "doc": "Sets a parameter of each; those that lack it are skipped with a reason. Gives how many were set.",
        "gives": "number",
        "isMethod": true
      },
      {
        "name": "run",
        "signature": "run(operation: string, options?: Readonly<Record<string, unknown>>): ScriptReport",
        "doc": "Does an operation on them: `nodes.run('align-left')`.",
        "gives": "ScriptReport",
        "isMethod": true
      },
      {
        "name": "remove",
        "signature": "remove(how?: { readonly heal?: boolean }): ScriptReport",
        "doc": "Deletes them. Consumers are given the source that they would have with all of these bypassed, unless `heal` is false.",
        "gives": "ScriptReport",
        "isMethod": true
      }
    ]
  },
  {
    "name": "ScriptRect",
    "doc": "A rectangle in pixels at 100 % zoom.",
    "extends": [],
    "members": [
      {
        "name": "x",
        "signature": "x: number",
        "doc": "",
        "gives": "number",
        "isMethod": false
      },
      {
        "name": "y",
        "signature": "y: number",
        "doc": "",
        "gives": "number",
        "isMethod": false
      },
      {
        "name": "width",
        "signature": "width: number",
        "doc": "",
        "gives": "number",
        "isMethod": false
      },
      {
        "name": "height",
        "signature": "height: number",
        "doc": "",
        "gives": "number",
        "isMethod": false
      }
    ]
  },
  {
    "name": "ScriptSet",
    "doc": "How a parameter is set.",
    "extends": [],
    "members": [
      {
        "name": "must",
        "signature": "must?: boolean",
        "doc": "The script fails where the node lacks the parameter, in place of passing over it.",
        "gives": "boolean",
        "isMethod": false
      },
      {
        "name": "replace",
        "signature": "replace?: boolean",
        "doc": "An expression or an unknown value is replaced, in place of being passed over.",
        "gives": "boolean",
        "isMethod": false
      }
    ]
  },
  {
    "name": "ScriptNode",
    "doc": "A node. What is written here is checked at once by the rules that hold everywhere.",
    "extends": [],
    "members": [
      {
        "name": "id",
        "signature": "id: string",
        "doc": "",
        "gives": "string",
        "isMethod": false
      },
      {
        "name": "kind",
        "signature": "kind: string",
        "doc": "",
        "gives": "string",
        "isMethod": false
      },
      {
        "name": "kindTitle",
        "signature": "kindTitle: string",
        "doc": "The title of its kind.",
        "gives": "string",
        "isMethod": false
      },
      {
        "name": "name",
        "signature": "name: string",
        "doc": "Unique in its graph: letters, digits and _, a letter first. Setting one that is taken or no name throws.",
        "gives": "string",
        "isMethod": false,
        "isWritable": true
      },
      {
        "name": "label",
        "signature": "label: string",
        "doc": "What stands on it; empty where only its name does.",
        "gives": "string",
        "isMethod": false,
        "isWritable": true
      },
      {
        "name": "x",
        "signature": "x: number",
        "doc": "Its left edge.",
        "gives": "number",
        "isMethod": false,
        "isWritable": true
      },
      {
        "name": "y",
        "signature": "y: number",
        "doc": "Its top edge.",
        "gives": "number",
        "isMethod": false,
        "isWritable": true
      },
      {
        "name": "width",
        "signature": "width: number",
        "doc": "",
        "gives": "number",
        "isMethod": false
      },
      {
        "name": "height",
        "signature": "height: number",
        "doc": "",
        "gives": "number",
        "isMethod": false
      },
      {
        "name": "bypassed",
        "signature": "bypassed: boolean",
        "doc": "",
        "gives": "boolean",
        "isMethod": false,
        "isWritable": true
      },
      {
        "name": "pinned",
        "signature": "pinned: boolean",
        "doc": "",
        "gives": "boolean",
        "isMethod": false,
        "isWritable": true
      },
      {
        "name": "color",
        "signature": "color: string | undefined",
        "doc": "Its own colour as #rrggbb; undefined where it has that of its category.",
        "gives": "string | undefined",
        "isMethod": false,
        "isWritable": true
      },
      {
        "name": "locked",
        "signature": "locked: boolean",
        "doc": "Locked parameters are passed over with a reason.",
        "gives": "boolean",
        "isMethod": false
      },
      {
        "name": "path",
        "signature": "path: string",
        "doc": "Where it stands, by names: `Water/Caustics`.",
        "gives": "string",
        "isMethod": false
      },
      {
        "name": "graph",
        "signature": "graph: ScriptGraph",
        "doc": "",
        "gives": "ScriptGraph",
        "isMethod": false
      },
      {
        "name": "frame",
        "signature": "frame: ScriptFrame | undefined",
        "doc": "The innermost frame around it.",
        "gives": "ScriptFrame | undefined",
        "isMethod": false
      },
      {
        "name": "inner",
        "signature": "inner: ScriptGraph | undefined",
        "doc": "The graph that it holds, where it is a nested one.",
        "gives": "ScriptGraph | undefined",
        "isMethod": false
      },
      {
        "name": "inputs",
        "signature": "inputs: readonly ScriptPort[]",
        "doc": "",
        "gives": "readonly ScriptPort[]",
        "isMethod": false
      },
      {
        "name": "outputs",
        "signature": "outputs: readonly ScriptPort[]",
        "doc": "",
        "gives": "readonly ScriptPort[]",
        "isMethod": false
      },
      {
        "name": "parameters",
        "signature": "parameters: readonly string[]",
        "doc": "The names of the parameters that it has, by its kind or set on it.",
        "gives": "readonly string[]",
        "isMethod": false
      },
      {
        "name": "sources",
        "signature": "sources: ScriptNodes",
        "doc": "The nodes that feed it by wires, in the order of its inputs.",
        "gives": "ScriptNodes",
        "isMethod": false
      },
      {
        "name": "targets",
        "signature": "targets: ScriptNodes",
        "doc": "The nodes that it feeds by wires.",
        "gives": "ScriptNodes",
        "isMethod": false
      },
      {
        "name": "input",
        "signature": "input(port: string): ScriptPort | undefined",
        "doc": "An input by id or name; undefined where there is none.",
        "gives": "ScriptPort | undefined",
        "isMethod": true
      },
      {
        "name": "output",
        "signature": "output(port: string): ScriptPort | undefined",
        "doc": "An output by id or name; undefined where there is none.",
        "gives": "ScriptPort | undefined",
        "isMethod": true
      },
      {
        "name": "get",
        "signature": "get(parameter: string): ScriptValue | undefined",
        "doc": "The value of a parameter: what was set, else the default of its kind. Undefined where the node lacks it, or where it holds an expression or something unknown.",
        "gives": "ScriptValue | undefined",
        "isMethod": true
      },
      {
        "name": "has",
        "signature": "has(parameter: string): boolean",
        "doc": "Does it have the parameter?",
        "gives": "boolean",
        "isMethod": true
      },
      {
        "name": "isSet",
        "signature": "isSet(parameter: string): boolean",
        "doc": "Was the parameter set, or does its default hold?",
        "gives": "boolean",
        "isMethod": true
      },
      {
        "name": "set",
        "signature": "set(parameter: string, value: ScriptValue, how?: ScriptSet): boolean",
        "doc": "Sets a parameter. False where the node was skipped: it lacks it, is locked, or holds an expression there. Throws where the value does not fit.",
        "gives": "boolean",
        "isMethod": true
      },
      {
        "name": "reset",
        "signature": "reset(parameter: string): boolean",
        "doc": "Takes a parameter back to the default of its kind.",
        "gives": "boolean",
        "isMethod": true
      },
      {
        "name": "moveTo",
        "signature": "moveTo(x: number, y: number): void",
        "doc": "Moves it there.",
        "gives": "void",
        "isMethod": true
      },
      {
        "name": "placeBeside",
        "signature": "placeBeside(other: ScriptNode, where?: 'right' | 'left' | 'above' | 'below', gap?: number): void",
        "doc": "Puts it beside another node, with a gap, their middles level.",
        "gives": "void",
        "isMethod": true
      },
      {
        "name": "connect",
        "signature": "connect(to: ScriptNode, ports?: { readonly output?: string; readonly input?: string; readonly replace?: boolean }): void",
        "doc": "Wires it to another node: the first output and input that fit, or those named.",
        "gives": "void",
        "isMethod": true
      },
      {
        "name": "become",
        "signature": "become(kind: string): ScriptReport",
        "doc": "Makes it one of another kind, with all wires and parameters that still fit.",
        "gives": "ScriptReport",
        "isMethod": true
      },
      {
        "name": "remove",
        "signature": "remove(how?: { readonly heal?: boolean }): ScriptReport",
        "doc": "Deletes it.",
        "gives": "ScriptReport",
        "isMethod": true
      }
    ]
  },
  {
    "name": "ScriptPort",
    "doc": "A port of a node.",
    "extends": [],
    "members": [
      {
        "name": "id",
        "signature": "id: string",
        "doc": "",
        "gives": "string",
        "isMethod": false
      },
      {
        "name": "name",
        "signature": "name: string",
        "doc": "",
        "gives": "string",
        "isMethod": false
      },
      {
        "name": "type",
        "signature": "type: string",
        "doc": "",
        "gives": "string",
        "isMethod": false
      },
      {
        "name": "node",
        "signature": "node: ScriptNode",
        "doc": "",
        "gives": "ScriptNode",
        "isMethod": false
      },
      {
        "name": "wires",
        "signature": "wires: readonly ScriptWire[]",
        "doc": "The wires at it: at most one at an input.",
        "gives": "readonly ScriptWire[]",
        "isMethod": false
      },
      {
        "name": "connect",
        "signature": "connect(other: ScriptPort, how?: { readonly replace?: boolean }): void",
        "doc": "Wires this output to an input, or this input to an output. Throws where they do not fit, or the input has a wire and `replace` is not said.",
        "gives": "void",
        "isMethod": true
      },
      {
        "name": "beacon",
        "signature": "beacon(name?: string): ScriptNode",
        "doc": "Makes this output a beacon, so that taps can listen to it.",
        "gives": "ScriptNode",
        "isMethod": true
      }
    ]
  },
  {
    "name": "ScriptWire",
    "doc": "A wire, from an output to an input.",
    "extends": [],
    "members": [
      {
        "name": "id",
        "signature": "id: string",
        "doc": "",
        "gives": "string",
        "isMethod": false
      },
      {
        "name": "from",
        "signature": "from: ScriptPort",
        "doc": "",
        "gives": "ScriptPort",
        "isMethod": false
      },
      {
        "name": "to",
        "signature": "to: ScriptPort",
        "doc": "",
        "gives": "ScriptPort",
        "isMethod": false
      },
      {
        "name": "off",
        "signature": "off: boolean",
        "doc": "Switched off: its input counts as open.",
        "gives": "boolean",
        "isMethod": false,
        "isWritable": true
      },
      {
        "name": "remove",
        "signature": "remove(): ScriptReport",
        "doc": "Cuts it.",
        "gives": "ScriptReport",
        "isMethod": true
      }
    ]
  },
  {
    "name": "ScriptFrame",
    "doc": "A frame around nodes and other frames.",
    "extends": [
      "ScriptRect"
    ],
    "members": [
      {
        "name": "id",
        "signature": "id: string",
        "doc": "",
        "gives": "string",
        "isMethod": false
      },
      {
        "name": "title",
        "signature": "title: string",
        "doc": "",
        "gives": "string",
        "isMethod": false,
        "isWritable": true
      },
      {
        "name": "note",
        "signature": "note: string",
        "doc": "What it is about.",
        "gives": "string",
        "isMethod": false,
        "isWritable": true
      },
      {
        "name": "color",
        "signature": "color: string | undefined",
        "doc": "",
        "gives": "string | undefined",
        "isMethod": false,
        "isWritable": true
      },
      {
        "name": "graph",
        "signature": "graph: ScriptGraph",
        "doc": "",
        "gives": "ScriptGraph",
        "isMethod": false
      },
      {
        "name": "parent",
        "signature": "parent: ScriptFrame | undefined",
        "doc": "The frame around it.",
        "gives": "ScriptFrame | undefined",
        "isMethod": false
      },
      {
        "name": "nodes",
        "signature": "nodes: ScriptNodes",
        "doc": "Its members, without those of frames within it.",
        "gives": "ScriptNodes",
        "isMethod": false
      },
      {
        "name": "frames",
        "signature": "frames: readonly ScriptFrame[]",
        "doc": "",
        "gives": "readonly ScriptFrame[]",
        "isMethod": false
      }
    ]
  },
  {
    "name": "ScriptNote",
    "doc": "A note on a graph.",
    "extends": [
      "ScriptRect"
    ],
    "members": [
      {
        "name": "id",
        "signature": "id: string",
        "doc": "",
        "gives": "string",
        "isMethod": false
      },
      {
        "name": "text",
        "signature": "text: string",
        "doc": "Markdown.",
        "gives": "string",
        "isMethod": false,
        "isWritable": true
      },
      {
        "name": "graph",
        "signature": "graph: ScriptGraph",
        "doc": "",
        "gives": "ScriptGraph",
        "isMethod": false
      }
    ]
  }
];
