export * from './notification.js';
export * from './channels.js';
