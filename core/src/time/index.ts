export * from './recurrence.js';
export * from './words.js';
export * from './zoned.js';
