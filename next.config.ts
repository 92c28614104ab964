import type { NextConfig } from 'next';

const config: NextConfig = {
  serverExternalPackages: [
    '@electric-sql/pglite',
    'fontkit',
    'lightningcss',
    'piscina',
    'puppeteer-core',
    'sharp',
  ],
  poweredByHeader: false,
  devIndicators: false,
  // Types are checked by `npm run types` and in the tests: whoever only starts the application need not wait for it.
  typescript: { ignoreBuildErrors: true },
};

export default config;
