export * from './rate.js';
export * from './report.js';
