export * from './readingTimes.js';
export * from './sheet.js';
