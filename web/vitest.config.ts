import { fileURLToPath } from 'node:url';
import { defineConfig } from 'vitest/config';

const modules = fileURLToPath(new URL('./node_modules/', import.meta.url));

export default defineConfig({
  // The tests stand beside the other floors' tests, outside this folder, and find the packages here.
  resolve: { alias: [{ find: /^(react|react-dom|@testing-library\/react|@tanstack\/react-query|@tanstack\/react-router)(\/.*)?$/, replacement: `${modules}$1$2` }], dedupe: ['react', 'react-dom'] },
  server: { fs: { allow: ['..'] } },
  // A test that looks at a page says so at its head: making one takes a second.
  test: {
    environment: 'node',
    include: ['../tests/web/**/*.test.{ts,tsx}'],
    coverage: { provider: 'v8', include: ['src/**'], exclude: ['src/**/*.d.ts'], reporter: ['text-summary'] },
  },
});
