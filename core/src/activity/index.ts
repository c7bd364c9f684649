export * from './kinds.js';
