import type { Theme } from '@basitax/core/inspect/sketch-colors';
import { create } from 'zustand';

export type ThemeChoice = Theme | 'system';

const stored = (): ThemeChoice => {
  const value = localStorage.getItem('basitax.theme');
  return value === 'paper' || value === 'night' ? value : 'system';
};
const dark = matchMedia('(prefers-color-scheme: dark)');
const resolve = (choice: ThemeChoice): Theme => (choice === 'system' ? (dark.matches ? 'night' : 'paper') : choice);

interface ThemeState {
  readonly choice: ThemeChoice;
  readonly theme: Theme;
  choose(choice: ThemeChoice): void;
}

/** Follows the system unless one was chosen; the choice is personal and stays in this browser. */
export const useTheme = create<ThemeState>((set) => ({
  choice: stored(),
  theme: resolve(stored()),
  choose(choice) {
    if (choice === 'system') localStorage.removeItem('basitax.theme');
    else localStorage.setItem('basitax.theme', choice);
    set({ choice, theme: resolve(choice) });
  },
}));

dark.addEventListener('change', () => useTheme.setState((state) => ({ theme: resolve(state.choice) })));

const show = ({ theme }: ThemeState): void => {
  document.documentElement.dataset.theme = theme;
};
show(useTheme.getState());
useTheme.subscribe(show);
