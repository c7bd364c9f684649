export * from './signals.js';
