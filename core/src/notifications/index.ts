export * from './notice.js';
export * from './ways.js';
