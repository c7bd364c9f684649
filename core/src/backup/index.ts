export { keptBackups } from './kept.js';
export { nextBackupAt } from './next.js';
