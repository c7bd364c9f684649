export * from './earlierMail.js';
export * from './foundMail.js';
