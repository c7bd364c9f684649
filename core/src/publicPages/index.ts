export * from './language.js';
export * from './sentences.js';
export * from './viewer.js';
