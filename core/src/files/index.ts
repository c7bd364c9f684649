export * from './block.js';
export * from './claims.js';
export * from './kinds.js';
export * from './limits.js';
export * from './names.js';
export * from './pages.js';
export * from './readingClock.js';
export * from './sharing.js';
