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
  // A screen's styles stand in its HTML: a dozen small files of them are ways to the server that its first content waits for.
  experimental: { inlineCss: true },
  poweredByHeader: false,
  devIndicators: false,
  // Types are checked by `npm run types` and in the tests: whoever only starts the application need not wait for it.
  typescript: { ignoreBuildErrors: true },
};

export default config;
