/** Light or dark: as the system has it until somebody chooses. */
import { create } from 'zustand';

type Theme = 'light' | 'dark';
const KEY = 'wide-ledger-theme';

function initial(): Theme {
  const chosen = localStorage.getItem(KEY);
  if (chosen === 'light' || chosen === 'dark') return chosen;
  return matchMedia('(prefers-color-scheme: dark)').matches ? 'dark' : 'light';
}

export const useTheme = create<{ readonly theme: Theme }>(() => ({ theme: initial() }));

export function applyTheme(): void {
  document.documentElement.dataset.theme = useTheme.getState().theme;
}

export function toggleTheme(): void {
  const theme = useTheme.getState().theme === 'light' ? 'dark' : 'light';
  localStorage.setItem(KEY, theme);
  useTheme.setState({ theme });
  applyTheme();
}
