import type { NextConfig } from 'next';
import { limits } from './core/formats/limits';

/** Cross-origin isolation lets the engine share memory between its workers; other sites see and learn nothing. */
const isolation = [
  { key: 'Cross-Origin-Opener-Policy', value: 'same-origin' },
  { key: 'Cross-Origin-Embedder-Policy', value: 'require-corp' },
  { key: 'Cross-Origin-Resource-Policy', value: 'same-origin' },
  { key: 'X-Content-Type-Options', value: 'nosniff' },
  { key: 'Referrer-Policy', value: 'no-referrer' },
  { key: 'X-Frame-Options', value: 'DENY' },
];

const config: NextConfig = {
  serverExternalPackages: ['mysql2', 'sharp', 'archiver'],
  poweredByHeader: false,
  devIndicators: false,
  experimental: {
    // One more than the routes take, so that what is too large arrives whole at the sentence that says so.
    proxyClientMaxBodySize: limits.requestBytes + 2 ** 20,
    // A route is read when it is first asked for: all of them at once would make every start four seconds longer.
    preloadEntriesOnStart: false,
  },
  // Types are checked by the test command, over the tests too; a start need not wait for it.
  typescript: { ignoreBuildErrors: true },
  headers: async () => [{ source: '/:path*', headers: isolation }],
};

export default config;
