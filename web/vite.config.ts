import { fileURLToPath } from 'node:url';
import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';

const at = (path: string) => fileURLToPath(new URL(path, import.meta.url));

export default defineConfig({
  plugins: [react()],
  // The server puts a fresh nonce into each answer.
  html: { cspNonce: '__NONCE__' },
  build: {
    sourcemap: false,
    chunkSizeWarningLimit: 800,
    rollupOptions: {
      input: { page: at('index.html'), 'service-worker': at('worker/serviceWorker.ts') },
      output: {
        // A service worker must keep its address, and stand above all that it serves.
        entryFileNames: ({ name }) => (name === 'service-worker' ? '[name].js' : 'assets/[name]-[hash].js'),
      },
    },
  },
  server: { port: 4601, proxy: { '/api': 'http://127.0.0.1:4600' } },
});
