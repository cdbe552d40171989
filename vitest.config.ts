import { fileURLToPath } from 'node:url';
import { defineConfig } from 'vitest/config';

const alias = { '@': fileURLToPath(new URL('.', import.meta.url)) };

/** Four rooms: the core alone, the parts that need MariaDB or Debian's readers, the real interface, and a walk through all that it offers. */
export default defineConfig({
  resolve: { alias },
  test: {
    // Two at a time: the system tests start processes of their own.
    maxWorkers: 2,
    globalSetup: './tests/build-programs.ts',
    projects: [
      {
        resolve: { alias },
        test: {
          name: 'unit',
          include: ['{core,engine,server,cli,demo,browser,ui}/**/*.test.ts'],
          setupFiles: ['./tests/seed.ts'],
          testTimeout: 60_000,
        },
      },
      {
        resolve: { alias },
        test: {
          name: 'system',
          include: ['tests/{reference,server}/**/*.test.ts'],
          // Far from UTC, with summer time: moments that are read in the host's zone are hours off, and found.
          env: { TZ: 'America/New_York' },
          testTimeout: 180_000,
          hookTimeout: 180_000,
        },
      },
      {
        resolve: { alias },
        test: {
          name: 'browser',
          include: ['tests/browser/**/*.test.ts'],
          setupFiles: ['./tests/browser/no-errors.ts', './tests/seed.ts'],
          testTimeout: 240_000,
          hookTimeout: 240_000,
          fileParallelism: false,
        },
      },
      {
        resolve: { alias },
        test: {
          name: 'offered',
          include: ['tests/offered/**/*.test.ts'],
          setupFiles: ['./tests/browser/no-errors.ts'],
          testTimeout: 240_000,
          hookTimeout: 300_000,
        },
      },
    ],
  },
});
