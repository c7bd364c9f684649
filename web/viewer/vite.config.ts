import { fileURLToPath } from 'node:url';
import { defineConfig } from 'vite';

/** The page that shows a file to whoever gets it: nothing of the desk is in it. */
export default defineConfig({
  root: fileURLToPath(new URL('.', import.meta.url)),
  base: '/v/',
  build: {
    outDir: 'dist',
    assetsDir: 'parts',
    // Its policy lets styles in from files, not from data.
    assetsInlineLimit: 0,
    modulePreload: { polyfill: false },
    sourcemap: false,
    chunkSizeWarningLimit: 1500,
  },
});
