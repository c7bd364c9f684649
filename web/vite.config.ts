import { basename } from 'node:path';
import { fileURLToPath } from 'node:url';
import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';
import { compression } from 'vite-plugin-compression2';

const at = (path: string) => fileURLToPath(new URL(path, import.meta.url));

const kebab = (name: string) => name.replace(/[A-Z]/g, (letter) => `-${letter.toLowerCase()}`);

export default defineConfig({
  // Packed as well as can be, once: the server gives out what lies beside each file.
  plugins: [react(), compression({ include: /\.(js|css|svg)$/, algorithms: ['brotliCompress', 'gzip'] })],
  // Each style sheet has a name of its own, so its classes can be read on the page.
  css: {
    modules: {
      generateScopedName: (name, file) => `${kebab(basename(file, '.module.css'))}-${kebab(name)}`,
    },
  },
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
        // What most pages need comes in one file: of forty small ones a browser fetches six at a time. What few pages
        // need is left out of it: the first page would load and parse it for nothing.
        codeSplitting: { groups: [{ name: 'shared', minShareCount: 20 }] },
      },
    },
  },
  server: {
    port: 4601,
    // Kiraku takes orders from its own page alone: the address that the browser asked must stay.
    proxy: { '/api': { target: 'http://127.0.0.1:4600', changeOrigin: false } },
  },
});
