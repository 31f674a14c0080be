import { defineConfig } from 'vitest/config';
import { LongestFirst } from './scripts/longest-first.mjs';
import { LONG_PROOFS } from './scripts/longProofs.mjs';

const isProof = process.env.CHRONICON_PROOFS === 'all';

export default defineConfig({
  test: {
    projects: [
      {
        extends: true,
        test: { name: 'web', include: ['packages/web/src/**/*.test.{ts,tsx}'] },
      },
      {
        extends: true,
        test: {
          name: 'node',
          include: [
            'packages/{core,server,simulators}/src/**/*.test.ts',
            'packages/core/golden/*.test.ts',
            '{demo,e2e}/src/**/*.test.ts',
          ],
          exclude: isProof ? [] : LONG_PROOFS,
          // What may run twice does so in every test.
          setupFiles: ['./scripts/vitest-rehearse.ts'],
          // Each test brings folders and servers of its own; modules are loaded once for all of a worker.
          isolate: false,
        },
      },
    ],
    // A page that is not laid out has nothing that can have the focus.
    onConsoleLog: (text) => (text.includes('use-focus-trap') ? false : undefined),
    sequence: { sequencer: LongestFirst },
    globalSetup: ['./scripts/vitest-setup.mjs'],
    pool: 'forks',
    // One more than the cores: tests wait for servers and browsers half of their time.
    maxWorkers: 3,
    // For what hangs alone: no outcome depends on how fast a machine is, and a busy one takes its time.
    testTimeout: 300_000,
    hookTimeout: 300_000,
  },
});
