import type { NextConfig } from 'next';

const config: NextConfig = {
  serverExternalPackages: ['@electric-sql/pglite', 'lightningcss', 'piscina', 'puppeteer-core', 'sharp'],
  poweredByHeader: false,
  devIndicators: false,
};

export default config;
