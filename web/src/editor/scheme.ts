import { noScheme, type Scheme } from '@basitax/core/color/scheme';
import { create } from 'zustand';
import { api } from '../api/client.ts';

/** The team's colours by category; those of the catalogue until they have come. */
export const useScheme = create<{ readonly scheme: Scheme }>(() => ({ scheme: noScheme }));

/** Asks for the team's colours. Where they cannot be had, the catalogue's hues do. */
export async function loadScheme(): Promise<void> {
  try {
    useScheme.setState({ scheme: await api.scheme() });
  } catch (error) {
    console.error('The team’s colours could not be read', error);
  }
}

/** Changes the team's colours for all. Throws ApiProblem. */
export async function saveScheme(scheme: Scheme): Promise<void> {
  await api.saveScheme(scheme);
  useScheme.setState({ scheme });
}
