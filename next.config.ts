import type { NextConfig } from 'next';
import { engine } from './scripts/engine.mjs';

const isBuild = process.env.NODE_ENV === 'production';

const config: NextConfig = {
  reactStrictMode: true,
  poweredByHeader: false,
  devIndicators: false,
  // It is served to this machine alone: packing 12 MB of engraver takes longer than handing them over.
  compress: false,
  env: { DRAGOMAN_ENGINE: engine() },
  headers: async () => [
    {
      source: '/workers/:path*',
      // The address of a build changes with what is in it.
      headers: [
        { key: 'Cache-Control', value: isBuild ? 'public, max-age=31536000, immutable' : 'no-store' },
      ],
    },
  ],
};

export default config;
