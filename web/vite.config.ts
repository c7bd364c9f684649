import { basename } from 'node:path';
import { fileURLToPath } from 'node:url';
import react from '@vitejs/plugin-react';
import { defineConfig, type Plugin, type Rolldown } from 'vite';
import { compression } from 'vite-plugin-compression2';
import { VIEWS } from './src/app/views.js';

const at = (path: string) => fileURLToPath(new URL(path, import.meta.url));

const kebab = (name: string) => name.replace(/[A-Z]/g, (letter) => `-${letter.toLowerCase()}`);

/**
 * Writes down what each page loads besides what all need, so that the server can have it fetched along with the document:
 * the first script would ask for it only once it runs.
 */
const ahead: Plugin = {
  name: 'ahead',
  generateBundle(_options, bundle) {
    const chunks = Object.values(bundle).filter((one) => one.type === 'chunk');
    const closure = (chunk: Rolldown.OutputChunk) => {
      const all = new Set([chunk]);
      for (const { imports } of all) for (const one of chunks) if (imports.includes(one.fileName)) all.add(one);
      return all;
    };
    const first = closure(chunks.find(({ name }) => name === 'page')!);
    const filesOf = (file: string) => {
      const view = chunks.find(({ facadeModuleId }) => facadeModuleId?.endsWith(`/src/${file}.tsx`))!;
      const own = [...closure(view)].filter((one) => !first.has(one));
      return own.flatMap(({ fileName, viteMetadata }) => [fileName, ...viteMetadata!.importedCss]);
    };
    const files = VIEWS.map(({ path, file }) => [path, [...new Set(filesOf(file))].map((name) => `/${name}`)]);
    this.emitFile({ type: 'asset', fileName: 'ahead.json', source: JSON.stringify(Object.fromEntries(files)) });
  },
};

export default defineConfig({
  // Packed as well as can be, once: the server gives out what lies beside each file.
  plugins: [react(), ahead, compression({ include: /\.(js|css|svg)$/, algorithms: ['brotliCompress', 'gzip'] })],
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
