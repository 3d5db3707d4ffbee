import { createContext, useContext, useEffect, useState, type ReactNode } from 'react';
import { useColorScheme } from 'react-native';
import { useAppSelector } from '../store/store';
import { DARK, LIGHT, type Theme } from './theme';

const ThemeContext = createContext<Theme>(LIGHT);

export const useTheme = (): Theme => useContext(ThemeContext);

/** Gives the theme that the settings, or else the system, ask for. */
export function ThemeProvider({ children }: { children: ReactNode }) {
  const system = useColorScheme();
  const wish = useAppSelector((s) => s.settings.theme);
  const theme = (wish === 'system' ? system : wish) === 'dark' ? DARK : LIGHT;
  useEffect(() => {
    document.body.style.backgroundColor = theme.page;
    document.documentElement.style.colorScheme = theme.name;
  }, [theme]);
  return <ThemeContext.Provider value={theme}>{children}</ThemeContext.Provider>;
}

/** Whether the user asked for less motion. */
export function useReducedMotion(): boolean {
  const [reduced, setReduced] = useState(false);
  useEffect(() => {
    const query = window.matchMedia('(prefers-reduced-motion: reduce)');
    const follow = () => setReduced(query.matches);
    follow();
    query.addEventListener('change', follow);
    return () => query.removeEventListener('change', follow);
  }, []);
  return reduced;
}
