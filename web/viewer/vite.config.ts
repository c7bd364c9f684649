import { fileURLToPath } from 'node:url';
import { paletteCss } from '@kiraku/core/look';
import { defineConfig, type Plugin } from 'vite';

/** Puts the palette before the style sheet: it holds without scripts, too. */
const palette: Plugin = {
  name: 'palette',
  enforce: 'pre',
  transform: (code, id) => (id.endsWith('/viewer.css') ? paletteCss() + code : undefined),
};

/** The page that shows a file to whoever gets it: nothing of the desk is in it. */
export default defineConfig({
  root: fileURLToPath(new URL('.', import.meta.url)),
  base: '/v/',
  plugins: [palette],
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
