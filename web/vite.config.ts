import tailwindcss from '@tailwindcss/vite';
import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';

export default defineConfig({
  plugins: [react(), tailwindcss({ optimize: false })],
  html: { cspNonce: '__NONCE__' },
  build: { rollupOptions: { input: ['app.html', 'sign.html'] }, assetsInlineLimit: 0, target: 'es2022', cssTarget: 'chrome123' },
});
