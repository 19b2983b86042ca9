import type { Region } from '@basitax/core/structure/propose';
import { create } from 'zustand';

/** Regions that are proposed as frames, drawn as ghosts until they are framed or the panel is closed. */
export const useRegions = create<{ readonly regions: readonly Region[] }>(() => ({ regions: [] }));
