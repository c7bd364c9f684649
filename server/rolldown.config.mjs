import { defineConfig } from 'rolldown';

/** This part of the framework would load a second copy of these at each start, by a `require` of its own. */
const LOADED_TWICE = ['class-validator', 'class-transformer', 'class-transformer/cjs/storage'];
const oneCopy = {
  name: 'one-copy',
  transform: {
    filter: { id: /@nestjs\/mapped-types\/.*type-helpers\.utils\.js$/ },
    handler: (code) => {
      const imports = LOADED_TWICE.map((name, n) => `import * as copy${n} from '${name}';`);
      const copies = LOADED_TWICE.map((name, n) => `'${name}': copy${n}`);
      return [...imports, code.replace('createRequire(import.meta.url)', `(name) => ({ ${copies} })[name]`)].join('\n');
    },
  },
};

/*
 * The server in one piece, from what the compiler wrote: a desk that is started in the morning need not look for a
 * thousand files, and nor does a program of its own, in tests neither. It lies as deep as the parts do, so that what
 * they find beside themselves is found from here.
 */
export default defineConfig({
  cwd: import.meta.dirname,
  input: {
    main: 'dist/main.js',
    supervisor: 'dist/supervisor/main.js',
    publicSite: 'dist/publicSite/main.js',
    'recorder.worker': 'dist/tracking/recorder.worker.js',
    'reports.worker': 'dist/reports/reports.worker.js',
    'mailReader.program': 'dist/messages/mailReader.program.js',
    resetPassphrase: 'dist/session/resetPassphrase.js',
    checkUp: 'dist/checkup/checkUp.js',
    checkDatabase: 'dist/checkup/checkDatabase.js',
    makeBackup: 'dist/backup/makeBackup.js',
    tryVersion: 'dist/update/tryVersion.js',
    update: 'dist/update/update.js',
    restoreBackup: 'dist/backup/restoreBackup.js',
    inspector: 'dist/files/inspector.js',
    painter: 'dist/files/painter.js',
  },
  platform: 'node',
  // Native, and transports and platforms of the framework that are not used.
  external: [
    /^better-sqlite3$/,
    // It finds its own worker beside itself.
    /^pdfjs-dist/,
    /^@nestjs\/(microservices|websockets|mongoose|platform-fastify)/,
    '@fastify/static',
    /^class-transformer\/storage/,
  ],
  plugins: [oneCopy],
  // Each part as it runs by itself, whatever it shares with others: what prepares the decorators comes before these.
  output: {
    strictExecutionOrder: true,
    dir: 'dist/bundle',
    entryFileNames: '[name].js',
    chunkFileNames: '[name]-[hash].js',
    cleanDir: true,
  },
  logLevel: 'warn',
});
