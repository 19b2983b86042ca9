import type { Rect } from '@basitax/core/document/geometry';
import type { Id } from '@basitax/core/document/ids';
import type { Severity } from '@basitax/core/finding';
import { create } from 'zustand';

/** What inspecting draws over the graph; at most what one panel has to show. */
export interface Marks {
  /** These stand out, and everything else lies under a veil. */
  readonly lit?: ReadonlySet<Id>;
  /** How warm nodes are, 0 to 4, with what is written on them. */
  readonly heat?: ReadonlyMap<Id, { readonly step: number; readonly text: string }>;
  /** A chain of nodes, one after the other. */
  readonly chain?: readonly Id[];
  /** Numbered parts of the graph; the one that is looked at now. */
  readonly places?: readonly Rect[];
  readonly place?: number | undefined;
  /** What house rules find: how many at a thing, and the gravest of them. */
  readonly found?: ReadonlyMap<Id, { readonly severity: Severity; readonly count: number }>;
  /** What differs from another document. */
  readonly differences?: Differences;
}

export interface Differences {
  readonly graph: Id;
  readonly added: ReadonlySet<Id>;
  /** Things that changed, by the gravest of it. */
  readonly changed: ReadonlyMap<Id, 'function' | 'words' | 'layout'>;
  /** Nodes that went: where they stood, and what they were called. */
  readonly removed: readonly { readonly id: Id; readonly rect: Rect; readonly title: string }[];
  /** Where nodes stood before they moved. */
  readonly moved: readonly { readonly id: Id; readonly from: Rect }[];
  /** Wires that something else feeds now. */
  readonly rewired: ReadonlySet<Id>;
}

const nothing: Marks = {};

export const useMarks = create<{ readonly marks: Marks }>(() => ({ marks: nothing }));

/** Shows marks in place of those that were there; without any, nothing. */
export const showMarks = (marks: Marks = nothing): void => useMarks.setState({ marks });

export const hasMarks = (marks: Marks): boolean => Object.values(marks).some((one) => one !== undefined);
