export * from './answering.js';
export * from './readingTimes.js';
export * from './sheet.js';
