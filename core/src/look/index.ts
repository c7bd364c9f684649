export * from './palette.js';
