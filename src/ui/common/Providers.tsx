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

interface Appearance {
  isNight: boolean;
  toggle: () => void;
}

const AppearanceContext = createContext<Appearance>({ isNight: false, toggle: () => {} });

/** Day or night, and the switch between them. */
export const useAppearance = (): Appearance => use(AppearanceContext);

const LESS_MOTION = '(prefers-reduced-motion: reduce)';

function onMotionChange(changed: () => void): () => void {
  const query = matchMedia(LESS_MOTION);
  query.addEventListener('change', changed);
  return () => query.removeEventListener('change', changed);
}

/**
 * Whether the person has asked their system for less motion: then nothing slides or grows in. Until it is known it is so, since the
 * library wraps the page anew, and forgets all that is in it, where motion is taken away later.
 */
const useLessMotion = (): boolean =>
  useSyncExternalStore(
    onMotionChange,
    () => matchMedia(LESS_MOTION).matches,
    () => true,
  );

export function Providers({ children }: { children: ReactNode }) {
  const [isNight, setNight] = useState(false);

  useEffect(() => {
    void readSetting('appearance').then((value) => {
      if (value) setNight(value === 'night');
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
    setNight((before) => {
      void writeSetting('appearance', before ? 'day' : 'night');
      return !before;
    });
  }, []);

  const appearance = useMemo(() => ({ isNight, toggle }), [isNight, toggle]);
  const lessMotion = useLessMotion();
  const theme = useMemo(() => {
    const base = isNight ? night : day;
    return lessMotion ? { ...base, token: { ...base.token, motion: false } } : base;
  }, [isNight, lessMotion]);
  return (
    <ConfigProvider theme={theme}>
      <AppearanceContext value={appearance}>
        <App>{children}</App>
      </AppearanceContext>
    </ConfigProvider>
  );
}
