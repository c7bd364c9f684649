export * from './address.js';
export * from './checks.js';
export * from './content.js';
export * from './conversation.js';
export * from './disclosure.js';
export * from './flowed.js';
export * from './limits.js';
export * from './placeholders.js';
