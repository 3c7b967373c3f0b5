import { defineConfig } from 'vitest/config';

export default defineConfig({ test: { environment: 'jsdom', include: ['../tests/web/**/*.test.{ts,tsx}', 'src/**/*.test.{ts,tsx}'] } });
