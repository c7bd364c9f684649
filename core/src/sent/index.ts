export * from './oldAddress.js';
export * from './placing.js';
export * from './snippet.js';
export * from './view.js';
