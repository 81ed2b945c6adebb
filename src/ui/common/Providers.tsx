'use client';

import { App, ConfigProvider } from 'antd';
import { createContext, type ReactNode, use, useCallback, useEffect, useMemo, useState } from 'react';
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
    const timer = setTimeout(() => void sharedEngraver().warm(), SETTLED);
    return () => clearTimeout(timer);
  }, []);

  const toggle = useCallback(() => {
    setNight((before) => {
      void writeSetting('appearance', before ? 'day' : 'night');
      return !before;
    });
  }, []);

  const appearance = useMemo(() => ({ isNight, toggle }), [isNight, toggle]);
  return (
    <ConfigProvider theme={isNight ? night : day}>
      <AppearanceContext value={appearance}>
        <App>{children}</App>
      </AppearanceContext>
    </ConfigProvider>
  );
}
