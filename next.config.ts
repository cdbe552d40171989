import type { NextConfig } from 'next';

/** Cross-origin isolation lets the engine share memory between its workers. */
const isolation = [
  { key: 'Cross-Origin-Opener-Policy', value: 'same-origin' },
  { key: 'Cross-Origin-Embedder-Policy', value: 'require-corp' },
  { key: 'Cross-Origin-Resource-Policy', value: 'same-origin' },
  { key: 'X-Content-Type-Options', value: 'nosniff' },
];

const config: NextConfig = {
  serverExternalPackages: ['mysql2', 'sharp', 'archiver'],
  poweredByHeader: false,
  devIndicators: false,
  // Types are checked by the test command, over the tests too; a start need not wait for it.
  typescript: { ignoreBuildErrors: true },
  headers: async () => [{ source: '/:path*', headers: isolation }],
};

export default config;
