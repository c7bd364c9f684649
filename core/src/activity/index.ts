export * from './kinds.js';
export * from './sittings.js';
