import type { z } from 'zod';
import type { Doc, Selection } from './document/doc.ts';
import { idMaker } from './document/ids.ts';
import type { Kinds } from './document/kinds.ts';
import type { Edit } from './edit/step.ts';
import type { Finding } from './finding.ts';

/** What an operation may use beside the document. Nothing else reaches it, so the same input gives the same edit. */
export interface Context {
  readonly kinds: Kinds;
  readonly seed: number;
  newId(prefix: string): string;
  /** `fraction` from 0 to 1. */
  progress(fraction: number, what: string): void;
  /** Asked at every round of long work; throw Cancelled where it says true. */
  cancelled(): boolean;
}

export class Cancelled extends Error {
  constructor() {
    super('Cancelled.');
    this.name = 'Cancelled';
  }
}

export interface Report {
  /** One sentence: what was done. */
  readonly summary: string;
  readonly findings: readonly Finding[];
  /** What should be selected afterwards, where it is not the same as before. */
  readonly select?: readonly string[];
}

export interface Outcome {
  readonly edit: Edit;
  readonly report: Report;
}

/** What has to be selected. `most` absent: any number. `all`: with nothing selected the whole graph is meant. */
export interface Needs {
  readonly what: 'nothing' | 'nodes' | 'items';
  readonly least: number;
  readonly most?: number;
  readonly all?: boolean;
}

export interface Operation<Options extends z.ZodObject = z.ZodObject> {
  /** Words in kebab case; part of addresses, recipes and the command line. */
  readonly id: string;
  readonly title: string;
  /** Where it stands in menus and which key begins its shortcut. */
  readonly area: 'arrange' | 'wire' | 'edit' | 'select' | 'frame' | 'link' | 'view';
  /** One sentence for help and the palette. */
  readonly about: string;
  readonly needs: Needs;
  /** Every option has a default or a title; units stand in `.meta({ unit })`. */
  readonly options: Options;
  /** May it change what the graph computes? Where not, a changed fingerprint is an error in the program. */
  readonly changesFunction: boolean;
  /**
   * Acts that rearrange, convert or replace show what they will do before they do it; `on-loss`: those that do so only
   * where something would be lost.
   */
  readonly preview: 'first' | 'at-once' | 'on-loss';
  /** Leaving inputs open is what it is for, all or those of the selected nodes: that is told, and never asked first. */
  readonly opensInputs?: true | 'own';
  /** Gives another selection and leaves the document as it is, so that anyone may do it at any time. */
  readonly selects?: true;
  /** Walks over the whole document: where that is large, it is done in a worker. */
  readonly heavy?: true;
  /** Cheap enough to be planned on the page, and anew at each move of a slider: its preview is there at once. */
  readonly live?: true;
  /**
   * `all`: what it adds or makes larger pushes aside what it lies on, nodes and frames, unless its option `room` is
   * off. `none`: it puts things back exactly where they were. Else nodes stay where they are put, and only frames make
   * room, so that none lies on another that it was clear of.
   */
  readonly room?: 'all' | 'none';
  /** Its options are asked for, though all of them have defaults. */
  readonly asks?: true;
  run(context: Context, doc: Doc, selection: Selection, options: z.output<Options>): Outcome;
}

/** An operation whose id is known to the compiler. */
export type Named<Id extends string> = Operation & { readonly id: Id };

/** Keeps the option types while declaring, and the id after it. */
export function operation<const Id extends string, Options extends z.ZodObject>(
  declared: Operation<Options> & { readonly id: Id },
): Named<Id> {
  return declared as unknown as Named<Id>;
}

export function createContext(
  kinds: Kinds,
  seed: number,
  hooks: { progress?: Context['progress']; cancelled?: Context['cancelled'] } = {},
): Context {
  return {
    kinds,
    seed,
    newId: idMaker(seed),
    progress: hooks.progress ?? (() => {}),
    cancelled: hooks.cancelled ?? (() => false),
  };
}

/** What an act could not keep: to be listed by name, and shown before it is done. */
export const losses = (report: Report): readonly Finding[] =>
  report.findings.filter((item) => item.severity !== 'info');
