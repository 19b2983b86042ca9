import type { parameterTypes } from '../document/catalogue.ts';
import type { Json } from '../document/json.ts';

// What goes over the border of the sandbox, as JSON text in both directions.

/** A record as the model sees it: only what scripts may ask for. */
export interface NodeRow {
  readonly id: string;
  readonly graph: string;
  readonly kind: string;
  readonly name: string;
  readonly label?: string | undefined;
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
  readonly frame?: string | undefined;
  readonly inner?: string | undefined;
  readonly bypassed?: true | undefined;
  readonly pinned?: true | undefined;
  readonly locked?: true | undefined;
  readonly color?: string | undefined;
  /** Which of the lists of ports is its own. */
  readonly ports: number;
  /** Values that scripts can work with. */
  readonly params?: Readonly<Record<string, Json>>;
  /** Parameters that hold something else, and what. */
  readonly opaque?: Readonly<Record<string, 'expression' | 'something unknown'>>;
  /** The ids of the sets that it is in. */
  readonly sets?: readonly string[];
  readonly setting?: string | undefined;
  readonly settings?: readonly string[];
}

export interface PortRow {
  readonly id: string;
  readonly name: string;
  readonly type: string;
  readonly direction: 'in' | 'out';
}

export interface KindRow {
  readonly title: string;
  readonly category: string;
  readonly isEnd: boolean;
  readonly ports: readonly PortRow[];
  readonly parameters: Readonly<Record<string, ParameterRow>>;
}

/** A parameter of a kind; JSON leaves out what is undefined. */
export interface ParameterRow {
  readonly title: string;
  readonly type: (typeof parameterTypes)[number];
  readonly unit?: string | undefined;
  readonly min?: number | undefined;
  readonly max?: number | undefined;
  readonly step?: number | undefined;
  readonly choices?: readonly string[] | undefined;
  readonly default: Json;
}

/** Rows of records that are new or changed, and the ids of those that are gone. */
export interface Delta {
  readonly kinds?: Readonly<Record<string, KindRow>>;
  /** Lists of ports, behind those that are known. */
  readonly portLists?: readonly (readonly PortRow[])[];
  readonly graphs?: readonly { readonly id: string; readonly name: string; readonly host?: string | undefined }[];
  readonly nodes?: readonly NodeRow[];
  readonly wires?: readonly {
    readonly id: string;
    readonly from: readonly [string, string];
    readonly to: readonly [string, string];
    readonly off?: true | undefined;
  }[];
  readonly frames?: readonly {
    readonly id: string;
    readonly graph: string;
    readonly title: string;
    readonly parent?: string | undefined;
    readonly note?: string | undefined;
    readonly color?: string | undefined;
    readonly folded?: true | undefined;
  }[];
  readonly notes?: readonly {
    readonly id: string;
    readonly graph: string;
    readonly text: string;
    readonly x: number;
    readonly y: number;
    readonly width: number;
    readonly height: number;
  }[];
  readonly gone?: readonly string[];
  /** All sets, where any was made, renamed or taken away. */
  readonly sets?: readonly { readonly id: string; readonly name: string }[];
}

/** What a script’s `each` gave for a file. */
export interface FileResult {
  readonly file: string;
  readonly result: Json;
}

/** What the model starts with. */
export interface Start extends Delta {
  readonly title: string;
  readonly root: string;
  /** The ids of all operations. */
  readonly operations: readonly string[];
  readonly graph: string;
  readonly selected: readonly string[];
  /** What `each` gave for each file, where all of them are put together. */
  readonly results?: readonly FileResult[];
  readonly seed: number;
}

/** What the host answers: what changed, and what was asked for; or why not. */
export interface Answer {
  readonly delta?: Delta;
  readonly result?: Json;
  /** The sentence of an error that the model throws. */
  readonly error?: string;
  /** Ends the script without an error: its options were all that was asked for. */
  readonly stop?: true;
}
