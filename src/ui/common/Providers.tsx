'use client';

import { App, ConfigProvider } from 'antd';
import {
  createContext,
  type ReactNode,
  use,
  useCallback,
  useEffect,
  useMemo,
  useState,
  useSyncExternalStore,
} from 'react';
import { readSetting, writeSetting } from '../../store/jobs';
import { sharedEngraver } from '../../workers/client';
import { day, night } from './theme';

/** The page has been drawn after so long, in milliseconds. */
const SETTLED = 300;

/** What is told covers neither Undo nor anything else of the top line; pixels. */
const BELOW_TOP_LINE = { top: 56 };

interface Appearance {
  isNight: boolean;
  toggle: () => void;
}

const AppearanceContext = createContext<Appearance>({ isNight: false, toggle: () => {} });

/** Day or night, and the switch between them. */
export const useAppearance = (): Appearance => use(AppearanceContext);

/** What the system says of a media query. @param untilKnown what is taken to hold while the page is not yet alive */
function useMedia(query: string, untilKnown: boolean): boolean {
  const subscribe = useCallback(
    (changed: () => void) => {
      const list = matchMedia(query);
      list.addEventListener('change', changed);
      return () => list.removeEventListener('change', changed);
    },
    [query],
  );
  return useSyncExternalStore(
    subscribe,
    () => matchMedia(query).matches,
    () => untilKnown,
  );
}

/**
 * Whether the person has asked their system for less motion: then nothing slides or grows in. Until it is known it is so, since the
 * library wraps the page anew, and forgets all that is in it, where motion is taken away later.
 */
const useLessMotion = (): boolean => useMedia('(prefers-reduced-motion: reduce)', true);

type Chosen = 'day' | 'night' | null;

export function Providers({ children }: { children: ReactNode }) {
  const [chosen, setChosen] = useState<Chosen>(null);
  // As the system is, until something else is chosen here.
  const isDark = useMedia('(prefers-color-scheme: dark)', false);
  const isNight = chosen === null ? isDark : chosen === 'night';

  useEffect(() => {
    void readSetting('appearance').then((value) => {
      if (value) setChosen(value === 'night' ? 'night' : 'day');
    });
  }, []);

  useEffect(() => {
    document.documentElement.dataset.appearance = isNight ? 'night' : 'day';
  }, [isNight]);

  // The engraver takes a second and more to start: it does so while nobody waits for it.
  useEffect(() => {
    const timer = setTimeout(() => {
      // Where it cannot be started, whoever asks it for something is told so.
      sharedEngraver()
        .ask((engraver) => engraver.warm())
        .catch(() => {});
    }, SETTLED);
    return () => clearTimeout(timer);
  }, []);

  const toggle = useCallback(() => {
    const next = isNight ? 'day' : 'night';
    setChosen(next);
    void writeSetting('appearance', next);
  }, [isNight]);

  const appearance = useMemo(() => ({ isNight, toggle }), [isNight, toggle]);
  const lessMotion = useLessMotion();
  const theme = useMemo(() => {
    const base = isNight ? night : day;
    return lessMotion ? { ...base, token: { ...base.token, motion: false } } : base;
  }, [isNight, lessMotion]);
  return (
    <ConfigProvider theme={theme}>
      <AppearanceContext value={appearance}>
        <App notification={BELOW_TOP_LINE}>{children}</App>
      </AppearanceContext>
    </ConfigProvider>
  );
}
