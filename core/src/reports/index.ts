export * from './behind.js';
export * from './better.js';
export * from './facts.js';
export * from './outcome.js';
export * from './period.js';
export * from './rate.js';
export * from './report.js';
export * from './view.js';
