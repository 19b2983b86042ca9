import type { Spacing } from '../layered/graph.ts';
import type { Quality } from '../layered/order.ts';

/** A page of parts in rows and columns, or one flow: everything in common layers, however long that becomes. */
export const layouts = ['page', 'one flow'] as const;
export type LayoutName = (typeof layouts)[number];

export interface PageOptions {
  readonly layout?: LayoutName;
  readonly spacing: Spacing;
  readonly keep: number;
  readonly quality?: Quality;
  /** Width ÷ height of the window that the page is for, in flow coordinates. */
  readonly proportion: number;
  readonly tick?: (fraction: number, what: string) => void;
}

/** What parts keep that no hub feeds, in pixels: room for a lane or two between. */
export const closeGap = 36;

/**
 * From this keep on, parts stay where they stand and only make room for one another; what stood above stays above,
 * whatever the numbers say.
 */
export const keepsPlaces = 0.5;

/** From this keep on, each asks for no more movement than those below it. */
const steadyFrom = 0.3;
const steps = [steadyFrom, keepsPlaces, 0.7, 0.9];

/**
 * The values of keep whose layouts are weighed against one another at one of them, so that more of it never moves nodes
 * further: itself, and those below it that go about it in the same way.
 */
export const steadySteps = (keep: number): readonly number[] => [
  ...steps.filter((step) => step < keep && step >= keepsPlaces === keep >= keepsPlaces),
  keep,
];

/**
 * What laying out a part that stays in place has to save to be worth it, in crossings and backward wires for each wire:
 * more and more, until at 1 no part is laid out.
 */
export const leastGain = (keep: number): number => (0.25 * (keep - keepsPlaces)) / (1 - keep);

/** Up to this keep parts are ordered afresh inside, and people's order decides where they stand and between equals. */
const freshUpTo = 0.3;

/** How much the order inside a part resists, from 0 to 1: what layered layout is told to keep. */
export const resistance = (keep: number): number => Math.max(0, (keep - freshUpTo) / (1 - freshUpTo));
