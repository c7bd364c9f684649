export * from './bestSendTime.js';
export * from './condition.js';
export * from './plan.js';
export * from './when.js';
export * from './whenSuggestions.js';
export * from './workingDays.js';
