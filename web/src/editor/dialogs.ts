import type { Id } from '@basitax/core/document/ids';
import type { PortRef } from '@basitax/core/document/schema';
import type { Edit } from '@basitax/core/edit/step';
import type { Report } from '@basitax/core/operation';
import { create } from 'zustand';
import type { InHand } from './hand.ts';
import type { Met } from './together/meet.ts';

/** What lies above the editor: at most one at a time. */
export type Opened =
  | 'save'
  | 'revisions'
  | 'palette'
  | 'find'
  | 'query'
  | 'table-out'
  | 'save-view'
  /** The menu of saved views. */
  | 'views'
  | 'shortcuts'
  | { readonly operation: string; readonly items?: readonly Id[] }
  /** Names, labels or titles of many are written. */
  | 'captions'
  /** A nested graph is published as a shared kind. */
  | { readonly publish: Id }
  /** A nested node that is looked into without entering. */
  | { readonly peek: Id }
  /** A node is added: where it goes, and what it hangs on. */
  | { readonly add: Adding }
  /** A port of a node is chosen for the wire in hand. */
  | { readonly ports: Id; readonly inHand: InHand }
  /** Two ports that do not fit, and the ways to make them. */
  | { readonly bridge: { readonly from: PortRef; readonly to: PortRef }; readonly why: string }
  /** A beacon is chosen: to be tapped here, or for the selected taps to listen to. */
  | { readonly beacons: 'tap' | 'retune' }
  /** The other ends of a remote link or feed. */
  | { readonly ends: Id }
  /** One of several is chosen; undefined where it is closed without. */
  | {
      readonly choose: string;
      readonly choices: readonly Choice[];
      readonly chosen: (index: number | undefined) => void;
    }
  /** One’s own changes meet those of others: each is decided, then something is done with what comes of it. */
  | { readonly meet: Met; readonly button: string; readonly resolved: (edit: Edit) => Promise<void> }
  /** Everything that an act had to say, with its number in the history where it can be undone. */
  | { readonly report: Report; readonly title: string; readonly act: number | undefined };

interface Choice {
  readonly label: string;
  readonly hint?: string;
}

export interface Adding {
  /** At the open end of a wire, or behind what is selected. */
  readonly where: 'in line' | 'alongside' | 'by itself' | 'at';
  readonly from?: PortRef;
  readonly to?: PortRef;
  /** A wire whose end was let go there: it can be taken away. */
  readonly wire?: Id;
  readonly x?: number;
  readonly y?: number;
}

interface Dialogs {
  readonly opened: Opened | undefined;
  /** What was closed last leads to the canvas, whatever had the focus before. */
  readonly toCanvas: boolean;
}

export const useDialogs = create<Dialogs>(() => ({ opened: undefined, toCanvas: false }));

export const openDialog = (opened: Opened): void =>
  useDialogs.setState((state) => (state.opened === undefined || typeof state.opened === 'object' ? { opened } : state));
export const closeDialog = (): void => useDialogs.setState({ opened: undefined, toCanvas: false });

/** Closes what is open and gives the keyboard to the canvas: for what goes to a place, or selects. */
export const closeToCanvas = (): void => useDialogs.setState({ opened: undefined, toCanvas: true });

/** Asks which of several is meant. Undefined where the person closes it without choosing. */
export const chooseOne = (title: string, choices: readonly Choice[]): Promise<number | undefined> =>
  new Promise((chosen) => useDialogs.setState({ opened: { choose: title, choices, chosen } }));

/** Gives the keyboard to the canvas, where it acts. */
export const focusCanvas = (): void =>
  document.querySelector<HTMLElement>('[data-canvas]')?.focus({ preventScroll: true });
