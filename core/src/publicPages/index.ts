export * from './language.js';
export * from './sentences.js';
