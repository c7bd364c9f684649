export * from './readingTimes.js';
export * from './sheet.js';
export * from './tags.js';
export * from './view.js';
