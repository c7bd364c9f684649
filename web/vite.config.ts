import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';

export default defineConfig({
  plugins: [react()],
  // The server puts a fresh nonce into each answer.
  html: { cspNonce: '__NONCE__' },
  build: { sourcemap: false, chunkSizeWarningLimit: 800 },
  server: { port: 4601, proxy: { '/api': 'http://127.0.0.1:4600' } },
});
