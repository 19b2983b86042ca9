import type { Id } from '@basitax/core/document/ids';
import { create } from 'zustand';

/** What is written at its place on the canvas. */
export interface InPlace {
  readonly id: Id;
  readonly what: 'name' | 'label' | 'title' | 'note';
}

export const useInPlace = create<{ readonly inPlace: InPlace | undefined }>(() => ({ inPlace: undefined }));

export const writeInPlace = (inPlace: InPlace | undefined): void => useInPlace.setState({ inPlace });
