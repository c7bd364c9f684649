export * from './assignment.js';
export * from './comparison.js';
export * from './memberKinds.js';
export * from './members.js';
export * from './pace.js';
export * from './provider.js';
export * from './state.js';
export * from './warnings.js';
