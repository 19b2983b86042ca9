import type { Id } from '@basitax/core/document/ids';
import { create } from 'zustand';

/** Nodes whose panels stay while others are selected, and those of them that are folded together. */
export const useKept = create<{ readonly kept: readonly Id[]; readonly shut: ReadonlySet<Id> }>(() => ({
  kept: [],
  shut: new Set(),
}));

const { setState } = useKept;

export const turnKept = (id: Id): void =>
  setState(({ kept }) => ({ kept: kept.includes(id) ? kept.filter((one) => one !== id) : [...kept, id] }));
export const turnShut = (id: Id): void =>
  setState(({ shut }) => ({ shut: new Set(shut.has(id) ? [...shut].filter((one) => one !== id) : [...shut, id]) }));
export const shutAll = (isShut: boolean): void => setState(({ kept }) => ({ shut: new Set(isShut ? kept : []) }));
export const letAllGo = (): void => setState({ kept: [], shut: new Set() });
