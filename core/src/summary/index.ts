export * from './schedule.js';
export * from './summary.js';
