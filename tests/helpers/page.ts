import { cleanup } from '@testing-library/react';
import { afterEach, vi } from 'vitest';

/**
 * What a browser has and jsdom lacks, for tests of components: sizes never
 * change, no media query fits, and a canvas takes all strokes.
 */
class Still implements ResizeObserver {
  observe(): void {}
  unobserve(): void {}
  disconnect(): void {}
}

vi.stubGlobal('ResizeObserver', Still);
vi.stubGlobal('matchMedia', (media: string) => ({
  media,
  matches: false,
  addEventListener: () => {},
  removeEventListener: () => {},
  addListener: () => {},
  removeListener: () => {},
}));
HTMLCanvasElement.prototype.getContext = (() =>
  new Proxy({}, { get: () => () => {} })) as unknown as HTMLCanvasElement['getContext'];
Element.prototype.scrollIntoView = () => {};

afterEach(cleanup);
