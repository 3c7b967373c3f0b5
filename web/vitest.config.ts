import { defineConfig } from 'vitest/config';

export default defineConfig({ server: { fs: { allow: ['..'] } }, test: { environment: 'jsdom', include: ['../tests/web/**/*.test.{ts,tsx}', 'src/**/*.test.{ts,tsx}'] } });
