export * from './hourOfWeek.js';
export * from './later.js';
export * from './period.js';
export * from './recurrence.js';
export * from './timeFormat.js';
export * from './words.js';
export * from './zoned.js';
