export * from './automatic.js';
export * from './classify.js';
export * from './deliveryStatus.js';
export * from './disposition.js';
export * from './enhancedStatus.js';
export * from './fields.js';
export * from './matching.js';
export * from './received.js';
